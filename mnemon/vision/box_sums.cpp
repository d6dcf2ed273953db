// SPDX-License-Identifier: MIT
#include <mnemon/vision/box_sums.hpp>

#include <algorithm>

namespace mnemon {

void BoxSums::add_up(ImageView<const float> values) noexcept {
  rows_ = values.rows;
  cols_ = values.cols;
  MNEMON_ASSERT(rows_ < sums_.rows() && cols_ < sums_.cols());
  for (int r = 0; r < rows_; ++r) {
    const float* const value = values.row(r);
    const float* const above = sums_.view().row(r);
    float* const sum = sums_.view().row(r + 1);
    float row = 0;
    for (int c = 0; c < cols_; ++c) {
      row += value[c];
      sum[c + 1] = above[c + 1] + row;
    }
  }
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
