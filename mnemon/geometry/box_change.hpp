// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>

#include <mnemon/geometry/box.hpp>

namespace mnemon {

/// How something moved and grew of which a box was in one place, and is in another: a shift and a growth that is the same
/// along both axes, so that the boxes have the same middle and area afterwards.
class BoxChange {
 public:
  /// From one box to another; both have an area.
  BoxChange(const Box& from, const Box& to) noexcept
      : from_(centre(from)), to_(centre(to)), growth_(std::sqrt(to.w * to.h / (from.w * from.h))) {}

  /// How many times as long a side is afterwards, above 0.
  [[nodiscard]] double growth() const noexcept { return growth_; }

  /// Where a place is afterwards, px.
  [[nodiscard]] Point of(Point place) const noexcept {
    return {to_.x + growth_ * (place.x - from_.x), to_.y + growth_ * (place.y - from_.y)};
  }

  /// Where a box is afterwards.
  [[nodiscard]] Box of(const Box& box) const noexcept {
    return box_around(of(centre(box)), growth_ * box.w, growth_ * box.h);
  }

 private:
  Point from_, to_;
  double growth_;
};

}  // namespace mnemon
