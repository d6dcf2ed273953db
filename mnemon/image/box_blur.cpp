// SPDX-License-Identifier: MIT
#include <mnemon/image/box_blur.hpp>

#include <algorithm>

namespace mnemon {

void BoxBlur::blur_into(ImageView<const float> in, int radius, ImageView<float> out) noexcept {
  const int rows = in.rows;
  const int cols = in.cols;
  if (radius == 0) {
    for (int r = 0; r < rows; ++r) std::copy_n(in.row(r), cols, out.row(r));
    return;
  }
  const float share = 1 / static_cast<float>(2 * radius + 1);
  // Along rows, then down columns. A row at a time: a running sum would have each cell wait for the one before.
  const int first = std::min(radius, cols);  // of the cells whose neighbours are all there
  const int end = std::max(first, cols - radius);
  for (int r = 0; r < rows; ++r) {
    const float* const from = in.row(r);
    float* const to = lines_.view().row(r);
    std::fill_n(to, cols, 0.0f);
    for (int i = -radius; i <= radius; ++i) {
      for (int c = 0; c < first; ++c) to[c] += share * from[std::clamp(c + i, 0, cols - 1)];
      for (int c = first; c < end; ++c) to[c] += share * from[c + i];
      for (int c = end; c < cols; ++c) to[c] += share * from[std::clamp(c + i, 0, cols - 1)];
    }
  }
  for (int r = 0; r < rows; ++r) {
    float* const to = out.row(r);
    std::fill_n(to, cols, 0.0f);
    for (int i = -radius; i <= radius; ++i) {
      const float* const from = lines_.view().row(std::clamp(r + i, 0, rows - 1));
      for (int c = 0; c < cols; ++c) to[c] += share * from[c];
    }
  }
}

}  // namespace mnemon
