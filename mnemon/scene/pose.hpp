// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/resample.hpp>

namespace mnemon {

/// Where a map takes a place.
[[nodiscard]] Point mapped(const Affine& map, Point p) noexcept;

/// First `inner`, then `outer`.
[[nodiscard]] Affine after(const Affine& outer, const Affine& inner) noexcept;

/// The way back; the map must not squeeze an area to nothing.
[[nodiscard]] Affine inverse(const Affine& map) noexcept;

/// How a target hangs in the air at a moment.
struct Pose {
  Point at;                 ///< Its middle, px of a camera at rest.
  double size_px = 0;       ///< Its height, px.
  double roll_deg = 0;      ///< Clockwise.
  double pitch = 1;         ///< Foreshortening along its height, in (0, 1].
  double yaw = 1;           ///< Foreshortening across, in (0, 1].
  double flutter = 0;       ///< How far waves bend it, in sizes.
  double time_s = 0;        ///< Which moves the waves.
  double shine = 1;         ///< Share of its light that is on, in [0, 1].
  bool anew = false;        ///< It has not come here from the pose before, but starts again, out of view.
  std::vector<Point> tail;  ///< From where it is tied on, px of a camera at rest.
  Affine view;              ///< From a camera at rest to the picture.
};

/// The pose between two: `share` of the way from a to b; where b starts anew, the nearer of both.
[[nodiscard]] Pose between(const Pose& a, const Pose& b, double share);

/// From a target's own units, in which its height is 1 and y goes down, to the picture.
class Placing {
 public:
  /// From a shape's own places to those of a frame.
  explicit Placing(const Pose& pose);

  /// A place of the shape, px of the frame.
  [[nodiscard]] Point operator()(Point p) const noexcept;
  /// All places of a shape, px of the frame.
  [[nodiscard]] Polygon operator()(const Polygon& shape) const;

  /// The place in own units that a place in the picture shows, waves aside.
  [[nodiscard]] Point own(Point p) const noexcept { return mapped(back_, p); }

 private:
  double flutter_;
  double time_s_;
  Affine there_;
  Affine back_;
};

}  // namespace mnemon
