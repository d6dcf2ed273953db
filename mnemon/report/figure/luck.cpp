// SPDX-License-Identifier: MIT
#include <algorithm>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>
#include <mnemon/report/palette.hpp>

namespace mnemon {
namespace {

// From the mean over sequences of the worst run to that of the best.
void add_range(const Results& results, int tracker, int protocol, double x, FigureSeries& series) {
  std::vector<double> means;
  std::vector<double> worst;
  std::vector<double> best;
  for (const int sequence : results.sequences()) {
    std::vector<double> known;
    for (const StudyRun* run : results.runs(tracker, sequence, protocol))
      if (const Figure area = figure_of(*run, "success_area"); area && run->failure.empty())
        known.push_back(*area);
    if (known.empty()) continue;
    means.push_back(*mean(known));
    worst.push_back(std::ranges::min(known));
    best.push_back(std::ranges::max(known));
  }
  series.x.push_back(x);
  series.y.push_back(or_gap(mean(means)));
  series.low.push_back(or_gap(mean(worst)));
  series.high.push_back(or_gap(mean(best)));
}

}  // namespace

std::vector<ReportFigure> luck_figures(const Results& results) {
  std::vector<int> protocols;
  for (const char* name : {"single", "starts", "nudges"})
    if (const int protocol = protocol_of(results, name); protocol >= 0) protocols.push_back(protocol);
  if (protocols.size() < 2) return {};
  std::vector<int> trackers = ranked_trackers(results, protocols.back());
  if (trackers.empty()) return {};
  ReportFigure figure{"luck",
                      "Other starts and nudged first boxes",
                      "",
                      "mean success area",
                      {},
                      {},
                      false,
                      true,
                      FigureKind::points};
  figure.categories = labels_of(results, trackers);
  for (std::size_t p = 0; p < protocols.size(); ++p) {
    FigureSeries series;
    series.label = results.study().protocols[protocols[p]].name;
    series.colour = tracker_colour(static_cast<int>(p));
    for (std::size_t i = 0; i < trackers.size(); ++i)
      add_range(results, trackers[i], protocols[p], static_cast<double>(i), series);
    figure.lines.push_back(std::move(series));
  }
  figure.note =
      "Marks are means over sequences; bars go from the mean of each sequence's worst run to that of its "
      "best. A long bar says that "
      "where one began, or how well one marked, decides.";
  return {figure};
}

}  // namespace mnemon
