// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {

std::vector<ReportFigure> tag_figures(const Results& results) {
  if (results.protocols().empty() || results.tags().empty()) return {};
  const int protocol = results.protocols().front();
  ReportFigure figure{
      "tags", "Success area by difficulty", "", "mean success area", {}, {}, false, true, FigureKind::points};
  figure.categories = results.tags();
  for (const int tracker : ranked_trackers(results, protocol)) {
    FigureSeries series = series_of(results, tracker);
    for (std::size_t i = 0; i < results.tags().size(); ++i)
      add_point(static_cast<double>(i),
                mean_over(results.tagged_values(tracker, protocol, "success_area", results.tags()[i])),
                series);
    figure.lines.push_back(std::move(series));
  }
  figure.note =
      "Means over the sequences with the tag; where a sequence says on which frames the difficulty is, those "
      "alone count. A tag "
      "with few sequences says little.";
  return {figure};
}

}  // namespace mnemon
