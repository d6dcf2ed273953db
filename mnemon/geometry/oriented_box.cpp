// SPDX-License-Identifier: MIT
#include <mnemon/geometry/oriented_box.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

#include <mnemon/geometry/polygon.hpp>

namespace mnemon {

bool is_turned(const OrientedBox& oriented) noexcept { return std::fmod(oriented.angle_deg, 180.0) != 0; }

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

double overlap(const OrientedBox& a, const OrientedBox& b) noexcept {
  if (!is_turned(a) && !is_turned(b)) return overlap(a.box, b.box);
  if (!is_proper(a.box) || !is_proper(b.box)) return 0;
  if (!std::isfinite(a.angle_deg) || !std::isfinite(b.angle_deg)) return 0;
  const double shared = shared_area(corners(a), corners(b));
  const double all = a.box.w * a.box.h + b.box.w * b.box.h - shared;
  return std::min(1.0, shared / all);
}

}  // namespace mnemon
