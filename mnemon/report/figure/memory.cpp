// SPDX-License-Identifier: MIT
#include <algorithm>
#include <functional>
#include <utility>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

// A bar for each tracker that has the figure, in MB.
ReportFigure bars(const Results& results, int protocol, ReportFigure figure,
                  const std::function<double(int tracker)>& bytes_of) {
  figure.kind = FigureKind::bars;
  for (const int tracker : ranked_trackers(results, protocol)) {
    const double bytes = bytes_of(tracker);
    if (!(bytes > 0)) continue;
    FigureSeries series = series_of(results, tracker);
    series.x.push_back(static_cast<double>(figure.categories.size()));
    series.y.push_back(bytes / 1e6);
    figure.categories.push_back(series.label);
    figure.lines.push_back(std::move(series));
  }
  return figure;
}

}  // namespace

std::vector<ReportFigure> memory_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  std::vector<ReportFigure> figures;
  figures.push_back(bars(results, protocol,
                         {"memory", "The most memory that a process took", "", "MB", {}, {}},
                         [&](int tracker) {
                           double most = 0;
                           for (const int sequence : results.sequences())
                             for (const StudyRun* run : results.runs(tracker, sequence, protocol))
                               most = std::max(most, run->peak_bytes.value_or(0));
                           return most;
                         }));
  figures.back().note =
      "Known of trackers that run in a process of their own: the largest of all their runs.";
  figures.push_back(bars(results, protocol, {"model", "The size of a tracker's model", "", "MB", {}, {}},
                         [&](int tracker) { return results.study().trackers[tracker].model_bytes(); }));
  figures.back().note = "As the tracker's process tells it.";
  std::erase_if(figures, [](const ReportFigure& figure) { return figure.lines.empty(); });
  return figures;
}

}  // namespace mnemon
