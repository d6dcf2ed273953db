// SPDX-License-Identifier: MIT
#include <mnemon/base/workers.hpp>
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

using Curve = std::vector<double> RunScore::*;

ReportFigure curve_figure(const Results& results, int protocol, ReportFigure figure, Curve curve,
                          std::size_t points, double per_step) {
  const std::vector<int>& trackers = results.trackers(protocol);
  for (const int tracker : trackers) figure.lines.push_back(series_of(results, tracker));
  for_each_index(static_cast<int>(trackers.size()), 0, [&](int i) {
    const auto values = over_sequences(
        results, trackers[i], protocol, points, [curve](const StudySequence&, const StudyRun& run) {
          return std::vector<Figure>((run.score.*curve).begin(), (run.score.*curve).end());
        });
    for (std::size_t point = 0; point < points; ++point)
      add_point(static_cast<double>(point) / per_step, mean_over(values[point]), figure.lines[i]);
  });
  std::erase_if(figure.lines, [](const FigureSeries& line) { return line.y.front() != line.y.front(); });
  figure.note = "Shaded, where few trackers are shown: 95 % intervals of the mean over sequences.";
  return figure;
}

}  // namespace

std::vector<ReportFigure> curve_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  return {curve_figure(results, protocol,
                       {"success",
                        "Success: share of frames above each overlap",
                        "overlap threshold",
                        "share of frames",
                        {},
                        {},
                        false,
                        true},
                       &RunScore::overlap_curve, 101, 100),
          curve_figure(results, protocol,
                       {"centre",
                        "Centre: share of frames within each centre error",
                        "centre error, px",
                        "share of frames",
                        {},
                        {},
                        false,
                        true},
                       &RunScore::centre_curve, 51, 1)};
}

}  // namespace mnemon
