// SPDX-License-Identifier: MIT
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>
#include <mnemon/score/steadiness.hpp>

namespace mnemon {
namespace {

ReportFigure by_tracker(const Results& results, const char* name, const char* title, const char* unit,
                        Figure Steadiness::*part) {
  const int protocol = results.protocols().front();
  const std::vector<int> trackers = ranked_trackers(results, protocol);
  ReportFigure figure{name, title, "", unit, {}, {}, false, false, FigureKind::points};
  figure.categories = labels_of(results, trackers);
  for (std::size_t i = 0; i < trackers.size(); ++i) {
    const MeanOver over = mean_over(over_sequences(
        results, trackers[i], protocol, [part](const StudySequence& sequence, const StudyRun& run) {
          return steadiness(score_frames(sequence.truth, run.trace).frames, sequence.truth, run.trace).*part;
        }));
    if (!over.mean) continue;
    figure.lines.push_back(series_of(results, trackers[i]));
    add_point(static_cast<double>(i), over, figure.lines.back());
  }
  return figure;
}

}  // namespace

std::vector<ReportFigure> steadiness_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  std::vector<ReportFigure> figures{
      by_tracker(results, "jitter", "Jitter: how the centre trembles about the truth", "target sizes",
                 &Steadiness::jitter),
      by_tracker(results, "lag", "Lag: how far the path runs behind the truth's", "frames",
                 &Steadiness::lag)};
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
