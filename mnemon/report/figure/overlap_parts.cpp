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
  ReportFigure lost{
      "overlap-lost", "What the overlap is lost to on found frames", "", "overlap lost", {}, {}};
  lost.kind = FigureKind::bars;
  ReportFigure covered{"covered",
                       "How much of the target lies in the box",
                       "",
                       "share of the target's area",
                       {},
                       {},
                       false,
                       true,
                       FigureKind::points};
  lost.categories = covered.categories = labels_of(results, trackers);
  constexpr std::array kParts{"offset of the centre", "size", "shape"};
  for (std::size_t part = 0; part < kParts.size(); ++part) {
    lost.lines.emplace_back();
    lost.lines.back().label = kParts[part];
    lost.lines.back().colour = tracker_colour(static_cast<int>(part));
  }
  for (std::size_t i = 0; i < trackers.size(); ++i) {
    const auto values = over_sequences(
        results, trackers[i], protocol, kParts.size() + 1,
        [&](const StudySequence& sequence, const StudyRun& run) {
          const Truth truth = results.study().truth_of(sequence);
          const Trace trace = results.study().trace_of(run);
          const OverlapPartMeans means = mean_overlap_parts(score_frames(truth, trace).frames, truth, trace);
          return std::vector<Figure>{means.offset, means.size, means.shape, means.covered};
        });
    for (std::size_t part = 0; part < kParts.size(); ++part) {
      lost.lines[part].x.push_back(static_cast<double>(i));
      lost.lines[part].y.push_back(or_gap(mean_of_known(values[part]).mean));
    }
    const MeanOver share = mean_over(values.back());
    if (!share.mean) continue;
    covered.lines.push_back(series_of(results, trackers[i]));
    add_point(static_cast<double>(i), share, covered.lines.back());
  }
  lost.note =
      "Of 1 less the overlap: what moving the box onto the truth's centre would gain, then giving it the "
      "truth's area, "
      "and the rest. Means over sequences, of frames on which the target was there and claimed.";
  covered.note = "Means over sequences, of the same frames. A box that is far too large covers everything.";
  return {lost, covered};
}

}  // namespace mnemon
