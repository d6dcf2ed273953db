// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/colour_response.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kCell = 4;

// The mean likelihood of the samples of each cell of a row; `stride` is that of the rows of samples.
MNEMON_TABLE_CLONES void cell_likelihoods(const ColourIndex* __restrict colours, std::ptrdiff_t stride,
                                          const float* __restrict table, int cells,
                                          float* __restrict out) noexcept {
  for (int c = 0; c < cells; ++c) {
    float sum = 0;
    for (int r = 0; r < kCell; ++r)
      for (int k = 0; k < kCell; ++k) sum += table[colours[r * stride + c * kCell + k]];
    out[c] = sum * (1.0f / (kCell * kCell));
  }
}

}  // namespace

ImageView<const float> ColourResponse::find(ImageView<const ColourIndex> colours, Point share,
                                            const ColourModel& model) noexcept {
  const int rows = response_.rows();
  const int cols = response_.cols();
  for (int r = 0; r < rows; ++r) {
    cell_likelihoods(colours.row(kCell * r), colours.stride, model.table(), cols, likelihood_.view().row(r));
    float sum = 0;
    for (int c = 0; c < cols; ++c) {
      sum += likelihood_(r, c);
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
