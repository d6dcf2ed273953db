// SPDX-License-Identifier: MIT
#include <mnemon/base/plain_text.hpp>
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

std::vector<FigureBand> absences(const Truth& truth) {
  std::vector<FigureBand> bands;
  for (const TruthRow& row : truth.rows) {
    if (row.present) continue;
    if (!bands.empty() && bands.back().to == row.frame - 0.5)
      bands.back().to = row.frame + 0.5;
    else
      bands.push_back({row.frame - 0.5, row.frame + 0.5});
  }
  return bands;
}

}  // namespace

void visit_overlap_figures(const Results& results, const std::function<void(const ReportFigure&)>& use) {
  if (results.protocols().empty()) return;
  const int protocol = results.protocols().front();
  for (const int sequence : results.sequences()) {
    const StudySequence& shown = results.study().sequences[sequence];
    const Truth truth = results.study().truth_of(shown);
    ReportFigure figure{"overlap-" + file_name_of(shown.name),
                        shown.name + ": overlap frame by frame",
                        "frame",
                        "overlap",
                        {},
                        absences(truth),
                        false,
                        true};
    for (const int tracker : results.trackers()) {
      const auto& runs = results.runs(tracker, sequence, protocol);
      if (runs.empty() || !runs.front()->failure.empty()) continue;
      FigureSeries line = series_of(results, tracker);
      for (const FrameScore& frame : score_frames(truth, results.study().trace_of(*runs.front())).frames) {
        line.x.push_back(frame.frame);
        line.y.push_back(or_gap(frame.present ? Figure(frame.overlap) : Figure()));
      }
      figure.lines.push_back(std::move(line));
    }
    use(figure);
  }
}

}  // namespace mnemon
