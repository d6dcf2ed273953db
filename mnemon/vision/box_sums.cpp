// SPDX-License-Identifier: MIT
#include <mnemon/vision/box_sums.hpp>

#include <algorithm>
#include <array>
#include <limits>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kAbreast = 4;  // rows
// Boxes of one size side by side, by the running sums at the corners of the first.
struct RowOfBoxes {
  const float* above_left;
  const float* above_right;
  const float* below_left;
  const float* below_right;
  [[nodiscard]] float sum(int i) const noexcept {
    return (below_right[i] - above_right[i]) - (below_left[i] - above_left[i]);
  }
};

MNEMON_CLONES void weigh_sums(RowOfBoxes inside, float inside_weight, RowOfBoxes all, float all_weight,
                              float most_off, std::span<float> out) noexcept {
  const int count = static_cast<int>(out.size());
  float* const __restrict to = out.data();
  for (int i = 0; i < count; ++i) to[i] = inside_weight * inside.sum(i) - all_weight * all.sum(i) + most_off;
}

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

// A contrast is the sum over the box times one number less the sum over box and frame times another. Each sum comes of three
// differences, which are off by at most half a unit in the last place of the sum of all, and so are the products.
void BoxSums::bound_contrasts(int first, int top, int cols, int rows, std::span<float> most) const noexcept {
  const int end = first + static_cast<int>(most.size());
  const int from = std::clamp(cols / 2, first, end);                  // places whose frame is in the picture
  const int to = std::clamp(cols_ - cols - cols / 2 + 1, from, end);  // on either side
  std::ranges::fill(most.first(from - first), std::numeric_limits<float>::infinity());
  std::ranges::fill(most.subspan(to - first), std::numeric_limits<float>::infinity());
  if (from == to) return;
  const auto row_of = [&](int left, int upper, int right, int lower) {
    const auto at = [&](int row, int col) { return sums_.view().row(row) + col; };
    return RowOfBoxes{at(upper, left), at(upper, right), at(lower, left), at(lower, right)};
  };
  const int upper = std::max(0, top - rows / 2);
  const int lower = std::min(rows_, top + rows + rows / 2);
  const double area = static_cast<double>(rows) * cols;
  const int across = cols + 2 * (cols / 2);
  const double frame = static_cast<double>(across) * (lower - upper) - area;
  const double by_frame = frame > 0 ? 1 / frame : 0;
  const double by_box = 1 / area + by_frame;
  const double most_off =
      4.0 * std::numeric_limits<float>::epsilon() * sums_(rows_, cols_) * (by_box + by_frame);
  weigh_sums(row_of(from, top, from + cols, top + rows), static_cast<float>(by_box),
             row_of(from - cols / 2, upper, from + cols + cols / 2, lower), static_cast<float>(by_frame),
             static_cast<float>(most_off), most.subspan(from - first, to - from));
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
