// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>
#include <numbers>

#include <mnemon/geometry/oriented_box.hpp>

namespace mnemon {

/// An ellipse: its middle, half axes and turn, px and degrees, clockwise as seen on the screen.
struct Ellipse {
  Point middle;          ///< Of the ellipse, px.
  double half_w = 0;     ///< Half of the first axis, px.
  double half_h = 0;     ///< Half of the second axis, px.
  double angle_deg = 0;  ///< Of the first axis from the x-axis, clockwise, degrees.
};

/// The turned box around an ellipse.
[[nodiscard]] inline OrientedBox box_of(const Ellipse& ellipse) noexcept {
  return {box_around(ellipse.middle, 2 * ellipse.half_w, 2 * ellipse.half_h),
          folded_angle_deg(ellipse.angle_deg)};
}

/// The upright box around an ellipse.
[[nodiscard]] inline Box bounds(const Ellipse& ellipse) noexcept {
  const double radians = ellipse.angle_deg * std::numbers::pi / 180;
  const double half_w = std::hypot(std::cos(radians) * ellipse.half_w, std::sin(radians) * ellipse.half_h);
  const double half_h = std::hypot(std::sin(radians) * ellipse.half_w, std::cos(radians) * ellipse.half_h);
  return box_around(ellipse.middle, 2 * half_w, 2 * half_h);
}

}  // namespace mnemon
