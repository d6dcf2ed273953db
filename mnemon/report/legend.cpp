// SPDX-License-Identifier: MIT
#include <mnemon/report/legend.hpp>

namespace mnemon {
namespace {

constexpr double kLetters = 13;
constexpr double kLine = 25;  // from one line to the next
constexpr double kBetween = 5;

// Where each entry stands, from the legend's corner.
std::vector<Point> places_of(const std::vector<LegendEntry>& entries, double width_px, const Canvas& canvas) {
  std::vector<Point> places;
  Point next;
  for (const LegendEntry& entry : entries) {
    const double width = canvas.label_width(entry.text, kLetters);
    if (next.x > 0 && next.x + width > width_px) next = {0, next.y + kLine};
    places.push_back(next);
    next.x += width + kBetween;
  }
  return places;
}

}  // namespace

double legend_height(const std::vector<LegendEntry>& entries, double width_px) {
  const Canvas measure(1, 1, {0, 0, 0});
  return entries.empty() ? 0 : places_of(entries, width_px, measure).back().y + kLine;
}

void draw_legend(const std::vector<LegendEntry>& entries, Point at, double width_px, Canvas& canvas) {
  const std::vector<Point> places = places_of(entries, width_px, canvas);
  for (std::size_t i = 0; i < entries.size(); ++i)
    canvas.label(entries[i].text, {at.x + places[i].x, at.y + places[i].y}, entries[i].ink, kLetters);
}

}  // namespace mnemon
