// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>
#include <mnemon/score/steadiness.hpp>

namespace mnemon {

std::vector<ReportFigure> steadiness_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  const std::vector<int> trackers = ranked_trackers(results, protocol);
  std::vector<ReportFigure> figures{
      {"jitter", "Jitter: how the centre trembles about the truth", "", "target sizes", {}, {}},
      {"lag", "Lag: how far the path runs behind the truth's", "", "frames", {}, {}}};
  for (ReportFigure& figure : figures) {
    figure.kind = FigureKind::points;
    figure.categories = labels_of(results, trackers);
  }
  for (std::size_t i = 0; i < trackers.size(); ++i) {
    const auto values = over_sequences(results, trackers[i], protocol, figures.size(),
                                       [&](const StudySequence& sequence, const StudyRun& run) {
                                         const Truth truth = results.study().truth_of(sequence);
                                         const Trace trace = results.study().trace_of(run);
                                         const Steadiness steady =
                                             steadiness(score_frames(truth, trace).frames, truth, trace);
                                         return std::vector<Figure>{steady.jitter, steady.lag};
                                       });
    for (std::size_t part = 0; part < figures.size(); ++part) {
      const MeanOver over = mean_over(values[part]);
      if (!over.mean) continue;
      figures[part].lines.push_back(series_of(results, trackers[i]));
      add_point(static_cast<double>(i), over, figures[part].lines.back());
    }
  }
  figures[0].note =
      "Median length of the second difference of the centre's error, over three found frames in a row; mean "
      "over sequences.";
  figures[1].note =
      "The shift of the truth's path that fits the estimate's best; below 0 the estimate runs ahead. Mean "
      "over sequences on which "
      "the target moves by more than its size.";
  std::erase_if(figures, [](const ReportFigure& figure) { return figure.lines.empty(); });
  return figures;
}

}  // namespace mnemon
