// SPDX-License-Identifier: MIT
#include <array>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>
#include <mnemon/report/palette.hpp>
#include <mnemon/score/overlap_parts.hpp>

namespace mnemon {

std::vector<ReportFigure> overlap_part_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  const std::vector<int> trackers = ranked_trackers(results, protocol);
  ReportFigure figure{
      "overlap-lost", "What the overlap is lost to on found frames", "", "overlap lost", {}, {}};
  figure.kind = FigureKind::bars;
  figure.categories = labels_of(results, trackers);
  struct Part {
    const char* label;
    Figure OverlapPartMeans::*mean;
  };
  const std::array parts{Part{"offset of the centre", &OverlapPartMeans::offset},
                         Part{"size", &OverlapPartMeans::size}, Part{"shape", &OverlapPartMeans::shape}};
  for (std::size_t part = 0; part < parts.size(); ++part) {
    FigureSeries series;
    series.label = parts[part].label;
    series.colour = tracker_colour(static_cast<int>(part));
    for (std::size_t i = 0; i < trackers.size(); ++i) {
      const MeanOver over = mean_over(over_sequences(
          results, trackers[i], protocol, [&](const StudySequence& sequence, const StudyRun& run) {
            return mean_overlap_parts(score_frames(sequence.truth, run.trace).frames, sequence.truth,
                                      run.trace).*
                   parts[part].mean;
          }));
      series.x.push_back(static_cast<double>(i));
      series.y.push_back(or_gap(over.mean));
    }
    figure.lines.push_back(std::move(series));
  }
  figure.note =
      "Of 1 less the overlap: what moving the box onto the truth's centre would gain, then giving it the "
      "truth's area, and the "
      "rest. Means over sequences, of frames on which the target was there and claimed.";
  return {figure};
}

}  // namespace mnemon
