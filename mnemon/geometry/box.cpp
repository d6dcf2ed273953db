// SPDX-License-Identifier: MIT
#include <mnemon/geometry/box.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

// The length that [0, a) and [offset, offset + b) share. Working with the difference of the corners keeps
// full precision for boxes far from the origin, and makes equal boxes share exactly their size.
double shared_length(double a, double offset, double b) noexcept {
  return std::max(0.0, std::min(a, offset + b) - std::max(0.0, offset));
}

}  // namespace

bool is_proper(const Box& box) noexcept {
  return std::isfinite(box.x) && std::isfinite(box.y) && std::isfinite(box.w) && std::isfinite(box.h) &&
         box.w > 0 && box.h > 0;
}

Point centre(const Box& box) noexcept { return {box.x + box.w / 2, box.y + box.h / 2}; }

Box box_around(Point middle, double w, double h) noexcept {
  return {middle.x - w / 2, middle.y - h / 2, w, h};
}

Box scaled(const Box& box, double factor) noexcept {
  return box_around(centre(box), box.w * factor, box.h * factor);
}

double overlap(const Box& a, const Box& b) noexcept {
  if (!is_proper(a) || !is_proper(b)) return 0;
  const double shared = shared_length(a.w, b.x - a.x, b.w) * shared_length(a.h, b.y - a.y, b.h);
  return std::min(1.0, shared / (a.w * a.h + b.w * b.h - shared));
}

bool reaches_into(const Box& box, double picture_w, double picture_h) noexcept {
  return is_proper(box) && shared_length(picture_w, box.x, box.w) > 0 &&
         shared_length(picture_h, box.y, box.h) > 0;
}

}  // namespace mnemon
