// SPDX-License-Identifier: MIT
#include <mnemon/geometry/oriented_box.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <vector>

#include <mnemon/geometry/polygon.hpp>

namespace mnemon {

Point turned(Point place, double angle_deg) noexcept {
  if (angle_deg == 0) return place;
  const double radians = angle_deg * std::numbers::pi / 180;
  return {std::cos(radians) * place.x - std::sin(radians) * place.y,
          std::sin(radians) * place.x + std::cos(radians) * place.y};
}

double folded_angle_deg(double angle_deg) noexcept {
  const double folded = std::remainder(angle_deg, 180.0);
  return folded <= -90 ? folded + 180 : folded;
}

OrientedBox stretched(const OrientedBox& oriented, double across, double down) noexcept {
  const Point middle = centre(oriented.box);
  const Point there{middle.x * across, middle.y * down};
  if (!is_turned(oriented))
    return {box_around(there, oriented.box.w * across, oriented.box.h * down), oriented.angle_deg};
  const Point along = turned({1, 0}, oriented.angle_deg);
  const Point along_there{along.x * across, along.y * down};
  const double w = std::hypot(along_there.x, along_there.y);
  const double h = std::hypot(along.y * across, along.x * down);
  return {box_around(there, oriented.box.w * w, oriented.box.h * h),
          std::atan2(along_there.y, along_there.x) * 180 / std::numbers::pi};
}

std::array<Point, 4> corners(const OrientedBox& oriented) noexcept {
  const Point middle = centre(oriented.box);
  const double radians = oriented.angle_deg * std::numbers::pi / 180;
  const double cosine = std::cos(radians);
  const double sine = std::sin(radians);
  const double half_w = oriented.box.w / 2;
  const double half_h = oriented.box.h / 2;
  const auto turned = [&](double x, double y) {
    return Point{middle.x + cosine * x - sine * y, middle.y + sine * x + cosine * y};
  };
  return {turned(-half_w, -half_h), turned(half_w, -half_h), turned(half_w, half_h), turned(-half_w, half_h)};
}

Box upright_around(const OrientedBox& oriented) noexcept {
  return is_turned(oriented) ? bounds(corners(oriented)) : oriented.box;
}

OrientedBox box_at_angle(std::span<const Point> points, double angle_deg) noexcept {
  const double cosine = std::cos(angle_deg * std::numbers::pi / 180);
  const double sine = std::sin(angle_deg * std::numbers::pi / 180);
  constexpr double kFar = std::numeric_limits<double>::infinity();
  Point low{kFar, kFar};
  Point high{-kFar, -kFar};
  for (const Point& p : points) {
    const Point upright{cosine * p.x + sine * p.y, cosine * p.y - sine * p.x};
    low = {std::min(low.x, upright.x), std::min(low.y, upright.y)};
    high = {std::max(high.x, upright.x), std::max(high.y, upright.y)};
  }
  const Point middle{(low.x + high.x) / 2, (low.y + high.y) / 2};
  const Point back{cosine * middle.x - sine * middle.y, sine * middle.x + cosine * middle.y};
  return {box_around(back, high.x - low.x, high.y - low.y), angle_deg};
}

OrientedBox tightest_box(std::span<const Point> points) {
  std::vector<Point> sorted(points.begin(), points.end());
  std::vector<Point> hull(points.size() + 1);
  hull.resize(convex_hull_into(sorted, hull));
  return tightest_box_of_hull(hull);
}

OrientedBox tightest_box_of_hull(std::span<const Point> hull) noexcept {
  OrientedBox best;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; hull.size() > 1 && i < hull.size(); ++i) {
    const Point from = hull[i];
    const Point to = hull[(i + 1) % hull.size()];
    // A quarter turn swaps the sides, so that one of four directions suffices.
    const double along = std::atan2(to.y - from.y, to.x - from.x);
    const double angle_deg = std::remainder(along * 180 / std::numbers::pi, 90.0);
    const OrientedBox around = box_at_angle(hull, angle_deg <= -45 ? angle_deg + 90 : angle_deg);
    const double area = around.box.w * around.box.h;
    if (!(area < least)) continue;
    least = area;
    best = around;
  }
  return best;
}

double overlap(const OrientedBox& a, const OrientedBox& b) noexcept {
  if (!is_turned(a) && !is_turned(b)) return overlap(a.box, b.box);
  if (!is_proper(a.box) || !is_proper(b.box)) return 0;
  if (!std::isfinite(a.angle_deg) || !std::isfinite(b.angle_deg)) return 0;
  const double shared = shared_area(corners(a), corners(b));
  const double all = a.box.w * a.box.h + b.box.w * b.box.h - shared;
  return std::min(1.0, shared / all);
}

}  // namespace mnemon
