// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/oriented_box.hpp>

namespace mnemon {

/// An ellipse: its middle, half axes and turn, px and degrees, clockwise as seen on the screen.
struct Ellipse {
  Point middle;
  double half_w = 0;
  double half_h = 0;
  double angle_deg = 0;
};

/// The turned box around an ellipse.
[[nodiscard]] inline OrientedBox box_of(const Ellipse& ellipse) noexcept {
  return {box_around(ellipse.middle, 2 * ellipse.half_w, 2 * ellipse.half_h),
          folded_angle_deg(ellipse.angle_deg)};
}

}  // namespace mnemon
