// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <span>
#include <vector>

#include <mnemon/geometry/box.hpp>

namespace mnemon {

/// A closed outline: its corners in order, the last joined to the first. Either direction.
using Polygon = std::vector<Point>;

/// The area inside, px²; positive where the corners go clockwise as seen on the screen. 0 below three
/// corners.
[[nodiscard]] double signed_area(std::span<const Point> corners) noexcept;

/// Whether a place lies inside: a ray to the right crosses the outline an odd number of times.
[[nodiscard]] bool contains(std::span<const Point> corners, Point place) noexcept;

/// The smallest upright box around the points; of size 0 where there is none.
[[nodiscard]] Box bounds(std::span<const Point> points) noexcept;

/// The corners of the smallest convex outline around the points, clockwise as seen on the screen, with no corner on a
/// straight side; fewer than three where the points lie on a line. Allocates nothing.
/// \param points  In any order; they are put in the order of x and y.
/// \param hull    Where the corners go; one more than there are points.
/// \returns  How many there are.
/// Source: Andrew 1979, another efficient algorithm for convex hulls in two dimensions.
std::size_t convex_hull_into(std::span<Point> points, std::span<Point> hull) noexcept;

/// The area that two convex quadrilaterals share, px². Both go clockwise as seen on the screen.
/// Allocates nothing. Source: Sutherland and Hodgman 1974, reentrant polygon clipping.
[[nodiscard]] double shared_area(const std::array<Point, 4>& a, const std::array<Point, 4>& b) noexcept;

}  // namespace mnemon
