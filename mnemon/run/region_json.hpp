// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/json.hpp>
#include <mnemon/track/region.hpp>

namespace mnemon {

/// A region as JSON, in the one form that processes, plans and marks share: an object with one key of `box` [x, y, w, h],
/// `oriented` [x, y, w, h, angle], `polygon` [[x, y], ...], `points` {include, exclude, box}, or `mask`, the runs of a mask as
/// packed, in base64. Pixels and degrees.
[[nodiscard]] Json region_json(const Region& region);

/// A region from that form.
/// \param room  Takes a mask's pixels, which the region is a view of; of the frame's size.
/// \throws DataError  where it is none.
[[nodiscard]] Region parse_region(const Json& json, ImageView<Byte> room);

}  // namespace mnemon
