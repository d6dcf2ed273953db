// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <limits>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

constexpr int kTimeBins = 40;

// Under a timed protocol that asks for it.
bool shows_step_times(const Results& results, int protocol) {
  const auto& asked = results.study().protocols[protocol].entry().figures;
  return std::ranges::find(asked, "step-time") != asked.end() &&
         results.study().protocols[protocol].is_timed();
}

// Of a tracker's steps; empty for one that does nothing, and that quickly.
std::vector<double> shown_times(const Results& results, int tracker, int protocol) {
  if (results.study().trackers[tracker].is_floor()) return {};
  std::vector<double> times = results.step_times(tracker, protocol);
  std::erase_if(times, [](double ms) { return !(ms > 0); });
  return times;
}

// Steps are many, so that they are read twice and those of one tracker are held at a time.
ReportFigure step_time_figure(const Results& results, int protocol) {
  ReportFigure figure{"step-time",
                      "Step time: share of steps that took so long",
                      "step time, ms",
                      "share of steps",
                      {},
                      {},
                      true,
                      false};
  double least = std::numeric_limits<double>::infinity();
  double most = 0;
  for (const int tracker : results.trackers(protocol))
    for (const double ms : shown_times(results, tracker, protocol)) {
      least = std::min(least, ms);
      most = std::max(most, ms);
    }
  if (!(most > 0)) return figure;
  const double low = std::log(0.8 * least);
  const double step = (std::log(1.25 * most) - low) / kTimeBins;
  for (const int tracker : results.trackers(protocol)) {
    const std::vector<double> times = shown_times(results, tracker, protocol);
    if (times.empty()) continue;
    FigureSeries line = series_of(results, tracker);
    for (int bin = 0; bin < kTimeBins; ++bin) line.x.push_back(std::exp(low + (bin + 0.5) * step));
    line.y.resize(kTimeBins);
    for (const double ms : times)
      line.y[std::min(kTimeBins - 1, static_cast<int>((std::log(ms) - low) / step))] += 1;
    for (double& share : line.y) share /= static_cast<double>(times.size());
    figure.lines.push_back(std::move(line));
  }
  figure.note = "All steps of all sequences, in 40 bins.";
  return figure;
}

}  // namespace

std::vector<ReportFigure> step_time_figures(const Results& results) {
  std::vector<ReportFigure> figures;
  for (const int protocol : results.protocols())
    if (shows_step_times(results, protocol)) figures.push_back(step_time_figure(results, protocol));
  std::erase_if(figures, [](const ReportFigure& figure) { return figure.lines.empty(); });
  return figures;
}

}  // namespace mnemon
