// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

constexpr int kBins = 10;
constexpr int kFewestFrames = 20;  // of a bin that is shown

struct Bin {
  double confidence = 0;
  double on_target = 0;
  double frames = 0;
};

void count(const Truth& truth, const Trace& trace, std::array<Bin, kBins>& bins) {
  for (const FrameScore& frame : score_frames(truth, trace).frames) {
    if (!frame.found) continue;
    Bin& bin = bins[std::clamp(static_cast<int>(frame.confidence * kBins), 0, kBins - 1)];
    bin.confidence += frame.confidence;
    bin.on_target += frame.present && exceeds(frame.overlap, 0.5) ? 1 : 0;
    ++bin.frames;
  }
}

}  // namespace

std::vector<ReportFigure> confidence_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const Study& study = results.study();
  const int protocol = results.protocols().front();
  ReportFigure figure{"confidence", "How sure, and how often right",
                      "confidence", "share of claims on the target",
                      {},           {},
                      false,        true};
  for (const int tracker : ranked_trackers(results, protocol)) {
    std::array<Bin, kBins> bins;
    for (const int sequence : results.sequences())
      for (const StudyRun* run : results.runs(tracker, sequence, protocol))
        if (run->failure.empty())
          count(study.truth_of(study.sequences[sequence]), study.trace_of(*run), bins);
    FigureSeries series = series_of(results, tracker);
    for (const Bin& bin : bins)
      if (bin.frames >= kFewestFrames) {
        series.x.push_back(bin.confidence / bin.frames);
        series.y.push_back(bin.on_target / bin.frames);
      }
    if (!series.x.empty()) figure.lines.push_back(std::move(series));
  }
  if (figure.lines.empty()) return {};
  figure.note =
      "A confidence that means what it says lies on the diagonal. Claims of all frames in ten bins; on the "
      "target is overlap "
      "above 0.5; bins with fewer than 20 frames are left out.";
  return {figure};
}

}  // namespace mnemon
