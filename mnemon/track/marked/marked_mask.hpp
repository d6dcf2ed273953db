// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/frame.hpp>
#include <mnemon/track/region.hpp>

namespace mnemon {

/// The part of a frame that points on and off a target mark: cut out by the colours around them, every piece that a point is on, as far
/// as it lies within the box where there is one. As large as the frame, 1 for the target.
/// \throws CallError  where no point is on the target, or a point lies outside the frame.
/// Source: Boykov and Jolly, ICCV 2001.
[[nodiscard]] Image<Byte> marked_mask(const Frame& frame, const PointMarks& marks);

}  // namespace mnemon
