// SPDX-License-Identifier: MIT
#include <algorithm>

#include <mnemon/base/workers.hpp>
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kOverlaps = 101;
constexpr std::size_t kErrors = 51;

// Of one run, the curve of overlaps and then that of centre errors: both are worked out at once.
std::vector<Figure> both_curves(const RunScore& score) {
  std::vector<Figure> values(kOverlaps + kErrors);
  std::ranges::copy(score.overlap_curve, values.begin());
  std::ranges::copy(score.centre_curve, values.begin() + kOverlaps);
  return values;
}

}  // namespace

std::vector<ReportFigure> curve_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  const std::vector<int>& trackers = results.trackers(protocol);
  std::vector<ReportFigure> figures{{"success",
                                     "Success: share of frames above each overlap",
                                     "overlap threshold",
                                     "share of frames",
                                     {},
                                     {},
                                     false,
                                     true},
                                    {"centre",
                                     "Centre: share of frames within each centre error",
                                     "centre error, px",
                                     "share of frames",
                                     {},
                                     {},
                                     false,
                                     true}};
  for (ReportFigure& figure : figures) {
    for (const int tracker : trackers) figure.lines.push_back(series_of(results, tracker));
    figure.note = "Shaded, where few trackers are shown: 95 % intervals of the mean over sequences.";
  }
  for (std::size_t i = 0; i < trackers.size(); ++i) {
    const auto values = over_sequences(results, trackers[i], protocol, kOverlaps + kErrors,
                                       [&](const StudySequence&, const StudyRun& run) {
                                         return both_curves(results.study().score_of(run));
                                       });
    std::vector<MeanOver> means(values.size());  // the intervals take longest
    for_each_index(static_cast<int>(values.size()), 0, [&](int k) { means[k] = mean_over(values[k]); });
    for (std::size_t k = 0; k < kOverlaps; ++k)
      add_point(static_cast<double>(k) / 100, means[k], figures[0].lines[i]);
    for (std::size_t k = 0; k < kErrors; ++k)
      add_point(static_cast<double>(k), means[kOverlaps + k], figures[1].lines[i]);
  }
  for (ReportFigure& figure : figures)
    std::erase_if(figure.lines, [](const FigureSeries& line) { return line.y.front() != line.y.front(); });
  return figures;
}

}  // namespace mnemon
