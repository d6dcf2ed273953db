// SPDX-License-Identifier: MIT
#include <mnemon/geometry/box.hpp>

#include <cmath>

namespace mnemon {

Box box_around(Point middle, double w, double h) noexcept {
  return {middle.x - w / 2, middle.y - h / 2, w, h};
}

Box scaled(const Box& box, double factor) noexcept {
  return box_around(centre(box), box.w * factor, box.h * factor);
}

Box between(const Box& first, const Box& second, double share) noexcept {
  return {std::lerp(first.x, second.x, share), std::lerp(first.y, second.y, share),
          std::lerp(first.w, second.w, share), std::lerp(first.h, second.h, share)};
}

bool reaches_into(const Box& box, double picture_w, double picture_h) noexcept {
  return is_proper(box) && detail::shared_length(picture_w, box.x, box.w) > 0 &&
         detail::shared_length(picture_h, box.y, box.h) > 0;
}

}  // namespace mnemon
