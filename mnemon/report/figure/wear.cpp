// SPDX-License-Identifier: MIT
#include <algorithm>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

constexpr int kBins = 10;

}  // namespace

std::vector<ReportFigure> wear_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  int longest = 0;
  for (const int sequence : results.sequences())
    longest = std::max(longest, results.study().sequences[sequence].frames);
  const double width = std::max(1.0, longest / double(kBins));
  ReportFigure figure{
      "wear", "Overlap against frames since the seed", "frames since the seed", "mean overlap", {}, {}, false,
      true};
  for (const int tracker : ranked_trackers(results, protocol)) {
    FigureSeries series = series_of(results, tracker);
    for (int bin = 0; bin < kBins; ++bin) {
      const MeanOver over = mean_over(
          over_sequences(results, tracker, protocol, [&](const StudySequence& sequence, const StudyRun& run) {
            std::vector<double> overlaps;
            for (const FrameScore& frame : score_frames(sequence.truth, run.trace).frames) {
              const double since = frame.frame - run.score.seed_frame;
              if (frame.present && since > bin * width && since <= (bin + 1) * width)
                overlaps.push_back(frame.overlap);
            }
            return mean(overlaps);
          }));
      if (over.known > 0) add_point((bin + 0.5) * width, over, series);
    }
    if (!series.x.empty()) figure.lines.push_back(std::move(series));
  }
  if (figure.lines.empty()) return {};
  figure.note =
      "Means over the sequences that are so long, in ten bins; shaded, where few trackers are shown, their "
      "95 % intervals. Nobody "
      "helps the tracker.";
  return {figure};
}

}  // namespace mnemon
