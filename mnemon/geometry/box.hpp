// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
/// \file
/// Points and upright boxes in continuous picture coordinates: x to the right, y down; pixel (i, j) covers
/// the square [i, i+1) x [j, j+1), so the middle of the first pixel is (0.5, 0.5).
namespace mnemon {

/// A place in the picture, px.
struct Point {
  double x = 0;  ///< To the right, px.
  double y = 0;  ///< Downwards, px.
  bool operator==(const Point&) const = default;
};

/// An upright box: its top-left corner and its size, px. It may reach past the picture's edge.
struct Box {
  double x = 0;  ///< The left edge, px.
  double y = 0;  ///< The upper edge, px.
  double w = 0;  ///< Width, px.
  double h = 0;  ///< Height, px.
  bool operator==(const Box&) const = default;
};

/// True where every number is finite and both sides are longer than 0.
[[nodiscard]] inline bool is_proper(const Box& box) noexcept {
  // A number less itself is 0, unless it is not finite. No branches: scoring asks this of every frame.
  const double nothing = (box.x - box.x) + (box.y - box.y) + ((box.w - box.w) + (box.h - box.h));
  return (nothing == 0) & (box.w > 0) & (box.h > 0);
}

/// The middle of the box, px.
[[nodiscard]] inline Point centre(const Box& box) noexcept { return {box.x + box.w / 2, box.y + box.h / 2}; }

/// The box of that centre and size.
[[nodiscard]] Box box_around(Point middle, double w, double h) noexcept;

/// The box grown about its own centre by a factor.
[[nodiscard]] Box scaled(const Box& box, double factor) noexcept;

/// The box whose every side lies between those of two others: at 0 the first, at 1 the second.
[[nodiscard]] Box between(const Box& first, const Box& second, double share) noexcept;

namespace detail {

/// The length that [0, a) and [offset, offset + b) share. Working with the difference of the corners keeps
/// full precision for boxes far from the origin, and makes equal boxes share exactly their size.
[[nodiscard]] inline double shared_length(double a, double offset, double b) noexcept {
  return std::max(0.0, std::min(a, offset + b) - std::max(0.0, offset));
}

}  // namespace detail

/// The area that two proper boxes have in common, px².
[[nodiscard]] inline double shared_area(const Box& a, const Box& b) noexcept {
  return detail::shared_length(a.w, b.x - a.x, b.w) * detail::shared_length(a.h, b.y - a.y, b.h);
}

/// Intersection over union, in [0, 1]; 0 where either box is not proper.
[[nodiscard]] inline double overlap(const Box& a, const Box& b) noexcept {
  if (!is_proper(a) || !is_proper(b)) return 0;
  const double shared = shared_area(a, b);
  return std::min(1.0, shared / (a.w * a.h + b.w * b.h - shared));
}

/// True where the box and the picture of that size have some area in common.
[[nodiscard]] bool reaches_into(const Box& box, double picture_w, double picture_h) noexcept;

}  // namespace mnemon
