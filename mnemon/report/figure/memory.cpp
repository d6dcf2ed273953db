// SPDX-License-Identifier: MIT
#include <algorithm>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {

std::vector<ReportFigure> memory_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  ReportFigure figure{"memory", "The most memory that a process took", "", "MB", {}, {}};
  figure.kind = FigureKind::bars;
  for (const int tracker : ranked_trackers(results, protocol)) {
    double most = 0;
    for (const int sequence : results.sequences())
      for (const StudyRun* run : results.runs(tracker, sequence, protocol))
        most = std::max(most, run->peak_bytes.value_or(0));
    if (!(most > 0)) continue;
    FigureSeries series = series_of(results, tracker);
    series.x.push_back(static_cast<double>(figure.categories.size()));
    series.y.push_back(most / 1e6);
    figure.categories.push_back(series.label);
    figure.lines.push_back(std::move(series));
  }
  if (figure.lines.empty()) return {};
  figure.note = "Known of trackers that run in a process of their own: the largest of all their runs.";
  return {figure};
}

}  // namespace mnemon
