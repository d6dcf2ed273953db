// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/track/region.hpp>

namespace mnemon {

/// The ellipse that a region marks: of a box the one that touches its sides; of a polygon, a mask or points the one in
/// the smallest upright box around it.
/// \param box  The smallest upright box around the region.
[[nodiscard]] Ellipse ellipse_of(const Region& region, const Box& box);

/// How much a place counts as the target, in [0, 1]: for boxes it falls from the middle to the ellipse's edge, as
/// corners are mostly background; a polygon or a mask says itself what is inside, wholly.
[[nodiscard]] double weight_in(const Region& region, const Ellipse& ellipse, Point place);

}  // namespace mnemon
