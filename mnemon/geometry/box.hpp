// SPDX-License-Identifier: MIT
#pragma once
/// \file
/// Points and upright boxes in continuous picture coordinates: x to the right, y down; pixel (i, j) covers
/// the square [i, i+1) x [j, j+1), so the middle of the first pixel is (0.5, 0.5).
namespace mnemon {

/// A place in the picture, px.
struct Point {
  double x = 0;
  double y = 0;
  bool operator==(const Point&) const = default;
};

/// An upright box: its top-left corner and its size, px. It may reach past the picture's edge.
struct Box {
  double x = 0;
  double y = 0;
  double w = 0;
  double h = 0;
  bool operator==(const Box&) const = default;
};

/// True where every number is finite and both sides are longer than 0.
[[nodiscard]] bool is_proper(const Box& box) noexcept;

[[nodiscard]] Point centre(const Box& box) noexcept;  ///< The middle of the box, px.

/// The box of that centre and size.
[[nodiscard]] Box box_around(Point middle, double w, double h) noexcept;

/// The box grown about its own centre by a factor.
[[nodiscard]] Box scaled(const Box& box, double factor) noexcept;

/// Intersection over union, in [0, 1]; 0 where either box is not proper.
[[nodiscard]] double overlap(const Box& a, const Box& b) noexcept;

/// True where the box and the picture of that size have some area in common.
[[nodiscard]] bool reaches_into(const Box& box, double picture_w, double picture_h) noexcept;

}  // namespace mnemon
