// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>

#include <mnemon/geometry/box.hpp>

namespace mnemon {

/// Where a target lies, how large it is against its seed, how far it has turned, and how much it is stretched along its
/// own x axis and shrunk along its y axis: a map from places about its middle on the seed frame, px, to places in a
/// frame.
struct TargetPose {
  Point middle;        ///< Of the target, px.
  double scale = 1;    ///< Of its size over that of the seed.
  double turn = 0;     ///< Radians, clockwise as seen on the screen.
  double stretch = 0;  ///< Logarithm of the stretch.

  /// Along its first axis.
  [[nodiscard]] double scale_x() const noexcept { return scale * std::exp(stretch); }
  /// Along its second axis.
  [[nodiscard]] double scale_y() const noexcept { return scale * std::exp(-stretch); }

  /// From the target's middle at scale 1 without a turn, to the frame, px.
  [[nodiscard]] Point place_of(Point about_middle) const noexcept {
    const double x = scale_x() * about_middle.x;
    const double y = scale_y() * about_middle.y;
    return {middle.x + std::cos(turn) * x - std::sin(turn) * y,
            middle.y + std::sin(turn) * x + std::cos(turn) * y};
  }
  /// The other way round.
  [[nodiscard]] Point about_middle(Point place) const noexcept {
    const double x = place.x - middle.x;
    const double y = place.y - middle.y;
    return {(std::cos(turn) * x + std::sin(turn) * y) / scale_x(),
            (std::cos(turn) * y - std::sin(turn) * x) / scale_y()};
  }

  /// The same size and turn in another place.
  [[nodiscard]] TargetPose moved_to(Point place) const noexcept { return {place, scale, turn, stretch}; }

  /// How far apart, px, this pose and another put a corner of a box about the middle at the most, given half of its sides.
  [[nodiscard]] double farthest_from(const TargetPose& other, double half_w, double half_h) const noexcept {
    double most = 0;
    for (const double x : {-half_w, half_w})
      for (const double y : {-half_h, half_h}) {
        const Point here = place_of({x, y});
        const Point there = other.place_of({x, y});
        most = std::max(most, std::hypot(here.x - there.x, here.y - there.y));
      }
    return most;
  }
};

}  // namespace mnemon
