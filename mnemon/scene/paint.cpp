// SPDX-License-Identifier: MIT
#include <mnemon/scene/paint.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {

Reach reach_of(const Polygon& outline, int rows, int cols) noexcept {
  const Box around = bounds(outline);
  const auto clamped = [](double v, int end) { return static_cast<int>(std::clamp<double>(v, 0, end)); };
  const int top = clamped(std::floor(around.y), rows);
  const int left = clamped(std::floor(around.x), cols);
  const int bottom = clamped(std::ceil(around.y + around.h), rows);
  const int right = clamped(std::ceil(around.x + around.w), cols);
  return {top, left, bottom - top, right - left};
}

ImageView<const float> covered(const Polygon& outline, const Reach& reach, CoverageTile& tile) {
  tile.place(reach.top, reach.left, reach.rows, reach.cols);
  tile.add(outline);
  return tile.finish();
}

MNEMON_CLONES void cover_row(const float* __restrict over, const float* __restrict cover,
                             float* __restrict rgb, int cols) noexcept {
  for (int c = 0; c < cols; ++c)
    for (int k = 0; k < 3; ++k) rgb[3 * c + k] += cover[c] * (over[3 * c + k] - rgb[3 * c + k]);
}

MNEMON_CLONES void add_row(const float* __restrict row, float factor, float* __restrict sum,
                           int count) noexcept {
  for (int i = 0; i < count; ++i) sum[i] += factor * row[i];
}

void fill_even(const Polygon& outline, ImageView<float> rgb, CoverageTile& tile, float opacity, Tint tint) {
  fill(outline, rgb, tile, opacity, [tint](double, double) { return tint; });
}

void Paper::paint(const Polygon& outline, Tint tint) {
  const Reach reach = reach_of(outline, rgb.rows(), rgb.cols());
  if (reach.is_empty()) return;
  const ImageView<const float> shares = covered(outline, reach, tile);
  for (int r = 0; r < shares.rows; ++r)
    for (int c = 0; c < shares.cols; ++c) {
      const float share = shares(r, c);
      if (share <= 0) continue;
      float& before = cover(reach.top + r, reach.left + c);
      // Both lie over what is still unknown, so that each counts by what it shows of itself.
      const float after = before + (1 - before) * share;
      lay(rgb.view().row(reach.top + r) + 3 * (reach.left + c), share / after, tint);
      before = after;
    }
}

Polygon band(Point a, Point b, double width) {
  const double length = std::max(1e-9, std::hypot(b.x - a.x, b.y - a.y));
  const Point side{-(b.y - a.y) / length * width / 2, (b.x - a.x) / length * width / 2};
  return {{a.x + side.x, a.y + side.y},
          {b.x + side.x, b.y + side.y},
          {b.x - side.x, b.y - side.y},
          {a.x - side.x, a.y - side.y}};
}

}  // namespace mnemon
