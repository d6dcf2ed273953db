// SPDX-License-Identifier: MIT
#include <mnemon/track/region.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

// A box's side over the picture's longer one: what is larger was written wrongly.
constexpr double kMostPictures = 4;

Box around(const Box& box, FrameSize /*size*/) { return box; }

Box around(const OrientedBox& oriented, FrameSize /*size*/) {
  if (!is_proper(oriented.box) || !std::isfinite(oriented.angle_deg)) return oriented.box;
  return upright_around(oriented);
}

Box around(const Polygon& polygon, FrameSize /*size*/) { return bounds(polygon); }

Box around(const ImageView<const Byte>& mask, FrameSize size) {
  if (mask.cols != size.width || mask.rows != size.height || mask.channels != 1)
    throw CallError(
        fmt::format("the mask is {} x {} with {} channels; it must be as large as the frame, {} x {}, with "
                    "one",
                    mask.cols, mask.rows, mask.channels, size.width, size.height));
  int left = mask.cols;
  int right = -1;
  int top = mask.rows;
  int bottom = -1;
  for (int r = 0; r < mask.rows; ++r)
    for (int c = 0; c < mask.cols; ++c) {
      if (mask(r, c) == 0) continue;
      left = std::min(left, c);
      right = std::max(right, c);
      top = std::min(top, r);
      bottom = r;
    }
  if (right < 0) throw CallError("the mask marks no pixel as the target");
  return {double(left), double(top), double(right - left + 1), double(bottom - top + 1)};
}

Box around(const PointMarks& marks, FrameSize /*size*/) { return marks.box.value_or(bounds(marks.include)); }

}  // namespace

Box enclosing_box(const Region& region, FrameSize size) {
  const Box box = std::visit([size](const auto& form) { return around(form, size); }, region);
  if (!is_proper(box))
    throw CallError(
        fmt::format("the target's box {},{},{},{} has no area; its width and height must be above 0", box.x,
                    box.y, box.w, box.h));
  const double most = kMostPictures * std::max(size.width, size.height);
  if (std::max(box.w, box.h) > most)
    throw CallError(fmt::format(
        "the target's box {},{},{},{} is too large for a picture of {} x {}: a side may have {:.0f} px",
        box.x, box.y, box.w, box.h, size.width, size.height, most));
  if (!reaches_into(box, size.width, size.height))
    throw CallError(fmt::format("the target's box {},{},{},{} lies outside the picture of {} x {}", box.x,
                                box.y, box.w, box.h, size.width, size.height));
  return box;
}

}  // namespace mnemon
