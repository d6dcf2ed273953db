// SPDX-License-Identifier: MIT
#include <algorithm>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

constexpr int kTenths = 10;

}  // namespace

std::vector<ReportFigure> wear_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  int longest = 0;
  for (const int sequence : results.sequences())
    longest = std::max(longest, results.study().sequences[sequence].frames);
  const double width = std::max(1.0, longest / double(kTenths));
  ReportFigure figure{
      "wear", "Overlap against frames since the seed", "frames since the seed", "mean overlap", {}, {}, false,
      true};
  for (const int tracker : ranked_trackers(results, protocol)) {
    FigureSeries series = series_of(results, tracker);
    const auto values = over_sequences(
        results, tracker, protocol, kTenths, [&](const StudySequence& sequence, const StudyRun& run) {
          std::vector<std::vector<double>> overlaps(kTenths);
          const Study& study = results.study();
          const double seeded = figure_of(run, "seed_frame").value_or(0);
          for (const FrameScore& frame : score_frames(study.truth_of(sequence), study.trace_of(run)).frames) {
            if (!frame.present) continue;
            // The first frame after the seed begins the first bin.
            const auto bin = static_cast<int>((frame.frame - seeded - 1) / width);
            overlaps[static_cast<std::size_t>(std::clamp(bin, 0, kTenths - 1))].push_back(frame.overlap);
          }
          std::vector<Figure> means;
          for (const std::vector<double>& of_bin : overlaps) means.push_back(mean(of_bin));
          return means;
        });
    for (int bin = 0; bin < kTenths; ++bin) {
      const MeanOver over = mean_over(values[static_cast<std::size_t>(bin)]);
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
