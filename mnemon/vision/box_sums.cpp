// SPDX-License-Identifier: MIT
#include <mnemon/vision/box_sums.hpp>

#include <algorithm>
#include <array>

namespace mnemon {
namespace {

constexpr int kAbreast = 4;  // rows

}  // namespace

// Sums along a row wait for one another, those of several rows do not.
template <int kRows>
void BoxSums::add_rows(ImageView<const float> values, int first) noexcept {
  std::array<const float*, kRows> value;
  std::array<float*, kRows> sum;
  std::array<float, kRows> along{};
  for (int k = 0; k < kRows; ++k) {
    value[k] = values.row(first + k);
    sum[k] = sums_.view().row(first + k + 1);
  }
  const float* const above = sums_.view().row(first);
  for (int c = 0; c < cols_; ++c) {
    float down = above[c + 1];
    for (int k = 0; k < kRows; ++k) {
      along[k] += value[k][c];
      down += along[k];
      sum[k][c + 1] = down;
    }
  }
}

void BoxSums::add_up(ImageView<const float> values) noexcept {
  rows_ = values.rows;
  cols_ = values.cols;
  MNEMON_ASSERT(rows_ < sums_.rows() && cols_ < sums_.cols());
  int r = 0;
  for (; r + kAbreast <= rows_; r += kAbreast) add_rows<kAbreast>(values, r);
  for (; r < rows_; ++r) add_rows<1>(values, r);
}

double BoxSums::contrast(int left, int top, int cols, int rows) const noexcept {
  const double inside = mean_in(left, top, left + cols, top + rows);
  const int from_col = std::max(0, left - cols / 2);
  const int from_row = std::max(0, top - rows / 2);
  const int to_col = std::min(cols_, left + cols + cols / 2);
  const int to_row = std::min(rows_, top + rows + rows / 2);
  const double all = (to_col - from_col) * (to_row - from_row);
  const double frame = all - rows * cols;
  if (frame <= 0) return inside;
  return inside - (mean_in(from_col, from_row, to_col, to_row) * all - inside * rows * cols) / frame;
}

}  // namespace mnemon
