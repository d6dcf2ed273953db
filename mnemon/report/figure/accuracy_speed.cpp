// SPDX-License-Identifier: MIT
#include <algorithm>

#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/figure/series.hpp>

namespace mnemon {
namespace {

// From the quickest on, each that is more accurate than all quicker ones.
std::vector<int> front_of(const std::vector<FigureSeries>& points) {
  std::vector<int> by_speed;
  for (int i = 0; i < static_cast<int>(points.size()); ++i) by_speed.push_back(i);
  std::ranges::stable_sort(by_speed, std::ranges::greater{}, [&](int i) { return points[i].x.front(); });
  std::vector<int> front;
  for (const int i : by_speed)
    if (front.empty() || points[i].y.front() > points[front.back()].y.front()) front.push_back(i);
  std::ranges::reverse(front);
  return front;
}

}  // namespace

std::vector<ReportFigure> accuracy_speed_figures(const Results& results) {
  if (results.protocols().empty()) return {};
  const int protocol = results.protocols().front();
  ReportFigure figure{"accuracy-speed",
                      "Accuracy against speed",
                      "frames/s on one core",
                      "mean success area",
                      {},
                      {},
                      true,
                      false,
                      FigureKind::points};
  for (const int tracker : ranked_trackers(results, protocol)) {
    const Speed speed = results.pooled_speed(tracker, protocol);
    const MeanOver area = mean_over(results.values(tracker, protocol, "success_area"));
    if (!speed.frames_per_s || !area.mean) continue;
    figure.lines.push_back(series_of(results, tracker));
    add_point(*speed.frames_per_s, area, figure.lines.back());
  }
  if (figure.lines.empty()) return {};
  figure.front = front_of(figure.lines);
  figure.note =
      "The line joins those that no other beats in both. Bars are 95 % intervals of each mean over "
      "sequences; whether two "
      "trackers are separated is in the table.";
  return {figure};
}

}  // namespace mnemon
