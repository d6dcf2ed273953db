// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <variant>
#include <vector>

#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Places on the target and places off it, and where it is known a box around it. Trackers are seeded with the mask
/// that they mark, which `marked_mask` cuts out of the frame.
struct PointMarks {
  std::vector<Point> include;   ///< At least one.
  std::vector<Point> exclude;   ///< Places that are not, px.
  std::optional<Box> box = {};  ///< Around all of the target, px, where that is known.
};

/// What marks the target on the seed frame. A mask is a view of one channel, as large as the frame, whose
/// non-zero pixels are the target; it need only last for the call.
using Region = std::variant<Box, OrientedBox, Polygon, ImageView<const Byte>, PointMarks>;

/// A box as a region: with its turn where it has one, and otherwise as a plain box.
[[nodiscard]] inline Region region_of(const OrientedBox& box) {
  if (is_turned(box)) return box;
  return box.box;
}

/// The smallest upright box around the region.
/// \param size  Of the frame.
/// \throws CallError  where the region has no area, a number is not finite, a mask has another size or is
/// empty,
///                    or the box has nothing in common with the frame, or is more than four times as long as it.
[[nodiscard]] Box enclosing_box(const Region& region, FrameSize size);

}  // namespace mnemon
