// SPDX-License-Identifier: MIT
#include <mnemon/image/box_blur.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

// What a value counts for that is so many steps away, of a width.
float share_at(int away, double width) noexcept {
  const double covered = std::clamp(0.5 * width + 0.5 - std::abs(away), 0.0, 1.0);
  return static_cast<float>(covered / width);
}

MNEMON_CLONES void add_share(const float* __restrict from, float share, int count,
                             float* __restrict to) noexcept {
  for (int i = 0; i < count; ++i) to[i] += share * from[i];
}

}  // namespace

void BoxBlur::blur_into(ImageView<const float> in, double width, ImageView<float> out) noexcept {
  const int rows = in.rows;
  const int cols = in.cols;
  const int reach = static_cast<int>(std::ceil(0.5 * (width - 1)));
  if (reach <= 0) {
    for (int r = 0; r < rows; ++r) std::copy_n(in.row(r), cols, out.row(r));
    return;
  }
  // Along rows, then down columns. A row at a time: a running sum would have each cell wait for the one before.
  const int first = std::min(reach, cols);  // of the cells whose neighbours are all there
  const int end = std::max(first, cols - reach);
  for (int r = 0; r < rows; ++r) {
    const float* const from = in.row(r);
    float* const to = lines_.view().row(r);
    std::fill_n(to, cols, 0.0f);
    for (int i = -reach; i <= reach; ++i) {
      const float share = share_at(i, width);
      for (int c = 0; c < first; ++c) to[c] += share * from[std::clamp(c + i, 0, cols - 1)];
      add_share(from + first + i, share, end - first, to + first);
      for (int c = end; c < cols; ++c) to[c] += share * from[std::clamp(c + i, 0, cols - 1)];
    }
  }
  for (int r = 0; r < rows; ++r) {
    float* const to = out.row(r);
    std::fill_n(to, cols, 0.0f);
    for (int i = -reach; i <= reach; ++i) {
      const float share = share_at(i, width);
      add_share(lines_.view().row(std::clamp(r + i, 0, rows - 1)), share, cols, to);
    }
  }
}

}  // namespace mnemon
