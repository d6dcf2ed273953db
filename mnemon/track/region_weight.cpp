// SPDX-License-Identifier: MIT
#include <mnemon/track/region_weight.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace mnemon {
namespace {

double fading_weight(const Ellipse& ellipse, Point place) {
  const double radians = ellipse.angle_deg * std::numbers::pi / 180;
  const double x = place.x - ellipse.middle.x;
  const double y = place.y - ellipse.middle.y;
  const double u = (std::cos(radians) * x + std::sin(radians) * y) / ellipse.half_w;
  const double v = (std::cos(radians) * y - std::sin(radians) * x) / ellipse.half_h;
  return std::max(0.0, 1 - u * u - v * v);
}

}  // namespace

Ellipse ellipse_of(const Region& region, const Box& box) {
  if (const auto* oriented = std::get_if<OrientedBox>(&region))
    return {centre(oriented->box), oriented->box.w / 2, oriented->box.h / 2, oriented->angle_deg};
  return {centre(box), box.w / 2, box.h / 2, 0};
}

double weight_in(const Region& region, const Ellipse& ellipse, Point place) {
  if (const auto* polygon = std::get_if<Polygon>(&region)) return contains(*polygon, place) ? 1 : 0;
  if (const auto* mask = std::get_if<ImageView<const Byte>>(&region)) {
    const int c = static_cast<int>(std::floor(place.x));
    const int r = static_cast<int>(std::floor(place.y));
    return r >= 0 && c >= 0 && r < mask->rows && c < mask->cols && (*mask)(r, c) != 0 ? 1 : 0;
  }
  return fading_weight(ellipse, place);
}

}  // namespace mnemon
