// SPDX-License-Identifier: MIT
#include <mnemon/report/figures.hpp>

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include <mnemon/report/palette.hpp>
#include <mnemon/report/table.hpp>
#include <mnemon/study/export.hpp>

namespace mnemon {
namespace {

constexpr int kBins = 40;

// The mean of one curve over a tracker's whole runs; empty where it has none.
std::vector<double> mean_curve(const Study& study, int tracker, std::vector<double> RunScore::*curve) {
  std::vector<double> sum;
  int count = 0;
  for (const StudyRun& run : study.runs) {
    const std::vector<double>& one = run.score.*curve;
    if (run.tracker != tracker || !run.failure.empty() || one.empty()) continue;
    sum.resize(one.size());
    for (std::size_t i = 0; i < one.size(); ++i) sum[i] += one[i];
    ++count;
  }
  for (double& value : sum) value /= count;
  return sum;
}

LineFigure curve_figure(const Study& study, LineFigure figure, std::vector<double> RunScore::*curve,
                        double per_step) {
  for (int tracker = 0; tracker < static_cast<int>(study.trackers.size()); ++tracker) {
    FigureLine line{
        study.trackers[tracker].label, tracker_colour(tracker), {}, mean_curve(study, tracker, curve)};
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

LineFigure success_figure(const Study& study) {
  const LineFigure figure{"success",
                          "Success: share of frames above each overlap",
                          "overlap threshold",
                          "share of frames",
                          {},
                          {},
                          false,
                          true};
  return curve_figure(study, figure, &RunScore::success_curve, 100);
}

LineFigure centre_figure(const Study& study) {
  const LineFigure figure{"centre",
                          "Centre: share of frames within each centre error",
                          "centre error, px",
                          "share of frames",
                          {},
                          {},
                          false,
                          true};
  return curve_figure(study, figure, &RunScore::centre_curve, 1);
}

LineFigure overlap_figure(const Study& study, int sequence) {
  const StudySequence& shown = study.sequences[sequence];
  LineFigure figure{"overlap-" + file_name_of(shown.name),
                    shown.name + ": overlap frame by frame",
                    "frame",
                    "overlap",
                    {},
                    absences(shown.truth),
                    false,
                    true};
  for (const StudyRun& run : study.runs) {
    if (run.sequence != sequence || !run.failure.empty()) continue;
    FigureLine line{study.trackers[run.tracker].label, tracker_colour(run.tracker), {}, {}};
    for (const FrameScore& frame : score_frames(shown.truth, run.trace).frames) {
      line.x.push_back(frame.frame);
      line.y.push_back(frame.present ? frame.overlap : std::numeric_limits<double>::quiet_NaN());
    }
    figure.lines.push_back(std::move(line));
  }
  return figure;
}

LineFigure step_time_figure(const Study& study) {
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
  for (int tracker = 0; tracker < static_cast<int>(study.trackers.size()); ++tracker) {
    times.push_back(pooled_step_times(study, tracker));
    std::erase_if(times.back(), [](double ms) { return !(ms > 0); });
    if (times.back().empty()) continue;
    least = std::min(least, std::ranges::min(times.back()));
    most = std::max(most, std::ranges::max(times.back()));
  }
  if (!(most > 0)) return figure;
  const double low = std::log(0.8 * least);
  const double step = (std::log(1.25 * most) - low) / kBins;
  for (std::size_t tracker = 0; tracker < times.size(); ++tracker) {
    if (times[tracker].empty()) continue;
    FigureLine line{study.trackers[tracker].label, tracker_colour(static_cast<int>(tracker)), {}, {}};
    for (int bin = 0; bin < kBins; ++bin) line.x.push_back(std::exp(low + (bin + 0.5) * step));
    line.y.resize(kBins);
    for (const double ms : times[tracker])
      line.y[std::min(kBins - 1, static_cast<int>((std::log(ms) - low) / step))] += 1;
    for (double& share : line.y) share /= static_cast<double>(times[tracker].size());
    figure.lines.push_back(std::move(line));
  }
  return figure;
}

std::vector<LineFigure> study_figures(const Study& study) {
  std::vector<LineFigure> figures{success_figure(study), centre_figure(study)};
  for (int i = 0; i < static_cast<int>(study.sequences.size()); ++i)
    figures.push_back(overlap_figure(study, i));
  figures.push_back(step_time_figure(study));
  return figures;
}

}  // namespace mnemon
