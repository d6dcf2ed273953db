// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cmath>
#include <numbers>
#include <span>

#include <mnemon/geometry/box.hpp>

namespace mnemon {

inline constexpr double kDegreesInRadian =
    180 / std::numbers::pi;  ///< What an angle in radians is multiplied by.

/// A box turned about its centre: `box` before the turn, and the angle in degrees, clockwise as seen on the
/// screen.
struct OrientedBox {
  Box box;               ///< As it would be without the turn, px.
  double angle_deg = 0;  ///< Turned about its middle, clockwise, degrees.
  bool operator==(const OrientedBox&) const = default;
};

/// True where the turn leaves the box other than upright: the angle is no multiple of 180 degrees.
[[nodiscard]] inline bool is_turned(const OrientedBox& oriented) noexcept {
  return oriented.angle_deg != 0 &&
         std::fmod(oriented.angle_deg, 180.0) != 0;  // fmod is slow, and 0 is common
}

/// Whether what is in the box stands upright: half a turn leaves a box as it is, but not what is in it.
[[nodiscard]] inline bool is_upright(const OrientedBox& oriented) noexcept {
  return oriented.angle_deg == 0 || std::fmod(oriented.angle_deg, 360.0) == 0;
}

/// A place turned about the origin, clockwise as seen on the screen.
[[nodiscard]] Point turned(Point place, double angle_deg) noexcept;

/// The same turn in (-90, 90] degrees, as half a turn leaves a box as it is.
[[nodiscard]] double folded_angle_deg(double angle_deg) noexcept;

/// The box in a picture that is stretched by these factors: as long and as turned as its own middle lines become.
/// Right angles would not stay such, but a box's do.
[[nodiscard]] OrientedBox stretched(const OrientedBox& oriented, double across, double down) noexcept;

/// The corners, clockwise as seen on the screen, from the one that was top left before the turn.
[[nodiscard]] std::array<Point, 4> corners(const OrientedBox& oriented) noexcept;

/// The smallest upright box around it: its own box where it is not turned.
[[nodiscard]] Box upright_around(const OrientedBox& oriented) noexcept;

/// The turned box of that angle that just holds all points, of which there is at least one. Allocates nothing.
[[nodiscard]] OrientedBox box_at_angle(std::span<const Point> points, double angle_deg) noexcept;

/// The turned box of the smallest area that holds all points, its angle in (-45, 45] degrees; one of its sides lies
/// on a side of their hull. Of size 0 where there are not two different points.
/// Source: Freeman and Shapira 1975, minimum-area encasing rectangle.
[[nodiscard]] OrientedBox tightest_box(std::span<const Point> points);

/// The same for the corners of a convex outline in order, as `convex_hull_into` gives them. Allocates nothing.
[[nodiscard]] OrientedBox tightest_box_of_hull(std::span<const Point> hull) noexcept;

/// Intersection over union of the two areas, in [0, 1]; 0 where a box is not proper or an angle not finite.
/// Two upright boxes are compared as boxes, without trigonometry.
[[nodiscard]] double overlap(const OrientedBox& a, const OrientedBox& b) noexcept;

}  // namespace mnemon
