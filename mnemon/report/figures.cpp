// SPDX-License-Identifier: MIT
#include <mnemon/report/figures.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/plain_text.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/report/stress.hpp>

namespace mnemon {
namespace {

constexpr int kBins = 40;

using Curve = std::vector<double> RunScore::*;

// The mean of curves of one length; empty where there is none.
std::vector<double> mean_curve(const std::vector<std::vector<double>>& curves) {
  std::vector<double> sum;
  for (const std::vector<double>& one : curves) {
    sum.resize(one.size());
    for (std::size_t i = 0; i < one.size(); ++i) sum[i] += one[i];
  }
  for (double& value : sum) value /= static_cast<double>(curves.size());
  return sum;
}

// Over a tracker's sequences, each with the same weight however many runs it has.
std::vector<double> mean_curve_of(const Results& results, int tracker, int protocol, Curve curve) {
  std::vector<std::vector<double>> by_sequence;
  for (const int sequence : results.sequences()) {
    std::vector<std::vector<double>> curves;
    for (const StudyRun* run : results.runs(tracker, sequence, protocol))
      if (run->failure.empty() && !(run->score.*curve).empty()) curves.push_back(run->score.*curve);
    if (!curves.empty()) by_sequence.push_back(mean_curve(curves));
  }
  return mean_curve(by_sequence);
}

LineFigure curve_figure(const Results& results, int protocol, LineFigure figure, Curve curve,
                        double per_step) {
  for (const int tracker : results.trackers()) {
    FigureLine line{results.study().trackers[tracker].label,
                    tracker_colour(tracker),
                    {},
                    mean_curve_of(results, tracker, protocol, curve),
                    is_tracker_dashed(tracker)};
    if (line.y.empty()) continue;
    for (std::size_t i = 0; i < line.y.size(); ++i) line.x.push_back(static_cast<double>(i) / per_step);
    figure.lines.push_back(std::move(line));
  }
  return figure;
}

std::vector<FigureBand> absences(const Truth& truth) {
  std::vector<FigureBand> bands;
  for (const TruthRow& row : truth.rows) {
    if (row.present) continue;
    if (!bands.empty() && bands.back().to == row.frame - 0.5)
      bands.back().to = row.frame + 0.5;
    else
      bands.push_back({row.frame - 0.5, row.frame + 0.5});
  }
  return bands;
}

}  // namespace

LineFigure success_figure(const Results& results, int protocol) {
  const LineFigure figure{"success",
                          "Success: share of frames above each overlap",
                          "overlap threshold",
                          "share of frames",
                          {},
                          {},
                          false,
                          true};
  return curve_figure(results, protocol, figure, &RunScore::overlap_curve, 100);
}

LineFigure centre_figure(const Results& results, int protocol) {
  const LineFigure figure{"centre",
                          "Centre: share of frames within each centre error",
                          "centre error, px",
                          "share of frames",
                          {},
                          {},
                          false,
                          true};
  return curve_figure(results, protocol, figure, &RunScore::centre_curve, 1);
}

LineFigure overlap_figure(const Results& results, int protocol, int sequence) {
  const StudySequence& shown = results.study().sequences[sequence];
  LineFigure figure{"overlap-" + file_name_of(shown.name),
                    shown.name + ": overlap frame by frame",
                    "frame",
                    "overlap",
                    {},
                    absences(shown.truth),
                    false,
                    true};
  for (const int tracker : results.trackers()) {
    const auto& runs = results.runs(tracker, sequence, protocol);
    if (runs.empty() || !runs.front()->failure.empty()) continue;
    FigureLine line{
        results.study().trackers[tracker].label, tracker_colour(tracker), {}, {}, is_tracker_dashed(tracker)};
    for (const FrameScore& frame : score_frames(shown.truth, runs.front()->trace).frames) {
      line.x.push_back(frame.frame);
      line.y.push_back(frame.present ? frame.overlap : std::numeric_limits<double>::quiet_NaN());
    }
    figure.lines.push_back(std::move(line));
  }
  return figure;
}

LineFigure step_time_figure(const Results& results, int protocol) {
  LineFigure figure{"step-time",
                    "Step time: share of steps that took so long",
                    "step time, ms",
                    "share of steps",
                    {},
                    {},
                    true,
                    false};
  std::vector<std::vector<double>> times;
  double least = std::numeric_limits<double>::infinity();
  double most = 0;
  for (const int tracker : results.trackers()) {
    times.push_back(results.step_times(tracker, protocol));
    std::erase_if(times.back(), [](double ms) { return !(ms > 0); });
    if (times.back().empty()) continue;
    least = std::min(least, std::ranges::min(times.back()));
    most = std::max(most, std::ranges::max(times.back()));
  }
  if (!(most > 0)) return figure;
  const double low = std::log(0.8 * least);
  const double step = (std::log(1.25 * most) - low) / kBins;
  for (std::size_t i = 0; i < times.size(); ++i) {
    if (times[i].empty()) continue;
    const int tracker = results.trackers()[i];
    FigureLine line{
        results.study().trackers[tracker].label, tracker_colour(tracker), {}, {}, is_tracker_dashed(tracker)};
    for (int bin = 0; bin < kBins; ++bin) line.x.push_back(std::exp(low + (bin + 0.5) * step));
    line.y.resize(kBins);
    for (const double ms : times[i])
      line.y[std::min(kBins - 1, static_cast<int>((std::log(ms) - low) / step))] += 1;
    for (double& share : line.y) share /= static_cast<double>(times[i].size());
    figure.lines.push_back(std::move(line));
  }
  return figure;
}

// Whether a protocol asks for a figure; that of step times needs times.
bool shows(const Results& results, int protocol, std::string_view figure) {
  const auto& asked = results.study().protocols[protocol].entry().figures;
  return std::ranges::find(asked, figure) != asked.end();
}

bool shows_step_times(const Results& results, int protocol) {
  return shows(results, protocol, "step-time") && results.study().protocols[protocol].is_timed();
}

LineFigure survival_figure(const Results& results, int protocol) {
  LineFigure figure{"survival",
                    "Survival: share of starts that hold for longer",
                    "frames since the start",
                    "share of starts",
                    {},
                    {},
                    false,
                    true};
  int longest = 0;
  for (const int tracker : results.trackers()) {
    std::vector<Stretch> stretches;
    for (const int sequence : results.sequences())
      for (const StudyRun* run : results.runs(tracker, sequence, protocol))
        stretches.insert(stretches.end(), run->score.stretches.begin(), run->score.stretches.end());
    if (stretches.empty()) continue;
    FigureLine line{results.study().trackers[tracker].label,
                    tracker_colour(tracker),
                    {0},
                    {1},
                    is_tracker_dashed(tracker)};
    for (const SurvivalPoint& point : survival_curve(stretches)) {  // down at once, then level
      line.x.insert(line.x.end(), {double(point.n), double(point.n)});
      line.y.insert(line.y.end(), {line.y.back(), point.share});
    }
    for (const Stretch& stretch : stretches) longest = std::max(longest, stretch.frames);
    figure.lines.push_back(std::move(line));
  }
  for (FigureLine& line : figure.lines) {
    line.x.push_back(longest);
    line.y.push_back(line.y.back());
  }
  return figure;
}

std::vector<LineFigure> study_figures(const Results& results) {
  std::vector<LineFigure> figures;
  if (!results.protocols().empty()) {
    const int first = results.protocols().front();
    figures = {success_figure(results, first), centre_figure(results, first)};
    for (const int sequence : results.sequences())
      figures.push_back(overlap_figure(results, first, sequence));
  }
  for (const int protocol : results.protocols()) {
    if (shows_step_times(results, protocol)) figures.push_back(step_time_figure(results, protocol));
    if (shows(results, protocol, "survival")) figures.push_back(survival_figure(results, protocol));
  }
  for (const StressResult& stress : stress_results(results.study()))
    figures.push_back(stress_figure(stress, results.study()));
  return figures;
}

}  // namespace mnemon
