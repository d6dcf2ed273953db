// SPDX-License-Identifier: MIT
#include <mnemon/geometry/oriented_box.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <vector>

#include <mnemon/geometry/polygon.hpp>

namespace mnemon {
namespace {

OrientedBox box_at_angle(std::span<const Point> points, double angle_deg) {
  const double cosine = std::cos(angle_deg * std::numbers::pi / 180);
  const double sine = std::sin(angle_deg * std::numbers::pi / 180);
  std::vector<Point> upright;
  for (const Point& p : points) upright.push_back({cosine * p.x + sine * p.y, cosine * p.y - sine * p.x});
  const Box around = bounds(upright);
  const Point middle = centre(around);
  const Point back{cosine * middle.x - sine * middle.y, sine * middle.x + cosine * middle.y};
  return {{back.x - around.w / 2, back.y - around.h / 2, around.w, around.h}, angle_deg};
}

}  // namespace

double folded_angle_deg(double angle_deg) noexcept {
  const double folded = std::remainder(angle_deg, 180.0);
  return folded <= -90 ? folded + 180 : folded;
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

OrientedBox tightest_box(std::span<const Point> points) {
  OrientedBox best;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < points.size(); ++i)
    for (std::size_t j = i + 1; j < points.size(); ++j) {
      if (points[i] == points[j]) continue;
      // A quarter turn swaps the sides, so that one of four directions suffices.
      const double along = std::atan2(points[j].y - points[i].y, points[j].x - points[i].x);
      const double angle_deg = std::remainder(along * 180 / std::numbers::pi, 90.0);
      const OrientedBox around = box_at_angle(points, angle_deg <= -45 ? angle_deg + 90 : angle_deg);
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
