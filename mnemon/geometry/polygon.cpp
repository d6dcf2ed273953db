// SPDX-License-Identifier: MIT
#include <mnemon/geometry/polygon.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

double cross(Point origin, Point a, Point b) noexcept {
  return (a.x - origin.x) * (b.y - origin.y) - (a.y - origin.y) * (b.x - origin.x);
}

// A convex piece while it is clipped: each of four cuts adds one corner at the most.
struct Piece {
  std::array<Point, 8> corner;
  std::size_t count = 0;
  void add(Point p) noexcept { corner[count++] = p; }
};

// Keeps what lies to the right of the directed line from `from` to `to`, which is the inside of a clockwise
// outline where y goes down.
Piece cut(const Piece& piece, Point from, Point to) noexcept {
  Piece kept;
  for (std::size_t i = 0; i < piece.count; ++i) {
    const Point p = piece.corner[i];
    const Point q = piece.corner[(i + 1) % piece.count];
    const double side_p = cross(from, to, p);
    const double side_q = cross(from, to, q);
    if (side_p >= 0) kept.add(p);
    if ((side_p > 0 && side_q < 0) || (side_p < 0 && side_q > 0)) {
      const double share = side_p / (side_p - side_q);
      kept.add({p.x + share * (q.x - p.x), p.y + share * (q.y - p.y)});
    }
  }
  return kept;
}

}  // namespace

std::size_t convex_hull_into(std::span<Point> points, std::span<Point> hull) noexcept {
  std::ranges::sort(points, [](Point a, Point b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
  std::size_t count = 0;
  const auto add = [&](Point p, std::size_t least) {
    while (count > least && !(cross(hull[count - 2], hull[count - 1], p) > 0)) --count;
    hull[count++] = p;
  };
  // Along the top from left to right, then back along the bottom.
  for (const Point p : points)
    if (count == 0 || p != hull[count - 1]) add(p, 1);
  const std::size_t top = count;
  for (std::size_t i = points.size(); i-- > 1;)
    if (points[i - 1] != hull[count - 1]) add(points[i - 1], top);
  return count > 1 ? count - 1 : count;  // the first point came again
}

double signed_area(std::span<const Point> corners) noexcept {
  double twice = 0;
  for (std::size_t i = 2; i < corners.size(); ++i) twice += cross(corners[0], corners[i - 1], corners[i]);
  return twice / 2;
}

bool contains(std::span<const Point> corners, Point place) noexcept {
  bool inside = false;
  for (std::size_t i = 0, j = corners.size() - 1; i < corners.size(); j = i++) {
    const Point a = corners[i];
    const Point b = corners[j];
    if ((a.y > place.y) == (b.y > place.y)) continue;
    if (place.x < a.x + (place.y - a.y) / (b.y - a.y) * (b.x - a.x)) inside = !inside;
  }
  return inside;
}

Box bounds(std::span<const Point> points) noexcept {
  if (points.empty()) return {};
  const auto [left, right] = std::ranges::minmax(points, {}, &Point::x);
  const auto [top, bottom] = std::ranges::minmax(points, {}, &Point::y);
  return {left.x, top.y, right.x - left.x, bottom.y - top.y};
}

double shared_area(const std::array<Point, 4>& a, const std::array<Point, 4>& b) noexcept {
  // Relative to one corner, so that far from the origin no digits are lost.
  const Point origin = a[0];
  Piece piece;
  for (const Point& p : a) piece.add({p.x - origin.x, p.y - origin.y});
  std::array<Point, 4> edge{};
  for (std::size_t i = 0; i < 4; ++i) edge[i] = {b[i].x - origin.x, b[i].y - origin.y};
  for (std::size_t i = 0; i < 4 && piece.count > 0; ++i) piece = cut(piece, edge[i], edge[(i + 1) % 4]);
  return std::max(0.0, signed_area(std::span(piece.corner).first(piece.count)));
}

}  // namespace mnemon
