// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/colour_response.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {

ImageView<const float> ColourResponse::find(ImageView<const float> likelihood, Point share) noexcept {
  const int rows = response_.rows();
  const int cols = response_.cols();
  for (int r = 0; r < rows; ++r) {
    float sum = 0;
    for (int c = 0; c < cols; ++c) {
      sum += likelihood(r, c);
      sums_(r + 1, c + 1) = sums_(r, c + 1) + sum;
    }
  }
  const int half_w = std::max(0, static_cast<int>(std::lround((share.x * cols - 1) / 2)));
  const int half_h = std::max(0, static_cast<int>(std::lround((share.y * rows - 1) / 2)));
  const float mean = sums_(rows, cols) / static_cast<float>(rows * cols);
  const float scale = 1.0f / static_cast<float>((2 * half_w + 1) * (2 * half_h + 1));
  // A box that reaches out of the window holds nothing there: what is not seen speaks for no place.
  for (int r = 0; r < rows; ++r) {
    const int top = std::max(0, r - half_h);
    const int bottom = std::min(rows, r + half_h + 1);
    for (int c = 0; c < cols; ++c) {
      const int left = std::max(0, c - half_w);
      const int right = std::min(cols, c + half_w + 1);
      const float sum = sums_(bottom, right) - sums_(top, right) - sums_(bottom, left) + sums_(top, left);
      response_(r, c) = sum * scale - mean;
    }
  }
  return response_.view();
}

}  // namespace mnemon
