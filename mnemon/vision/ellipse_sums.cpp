// SPDX-License-Identifier: MIT
#include <mnemon/vision/ellipse_sums.hpp>

#include <algorithm>
#include <array>
#include <cmath>

namespace mnemon {
namespace {

constexpr int kRowsAbreast = 4;  // rows

}  // namespace

// Sums along a row wait for one another, those of several rows do not.
template <int kRows>
void EllipseSums::add_rows(ImageView<const float> weights, int first) noexcept {
  std::array<const float*, kRows> weight;
  std::array<float*, kRows> sum;
  std::array<float*, kRows> moment;
  std::array<float, kRows> mass{};
  std::array<float, kRows> turning{};
  for (int k = 0; k < kRows; ++k) {
    weight[k] = weights.row(first + k);
    sum[k] = sums_.view().row(first + k);
    moment[k] = moments_.view().row(first + k);
  }
  for (int c = 0; c < cols_; ++c) {
    const float middle = static_cast<float>(c) + 0.5f;
    for (int k = 0; k < kRows; ++k) {
      mass[k] += weight[k][c];
      turning[k] += weight[k][c] * middle;
      sum[k][c + 1] = mass[k];
      moment[k][c + 1] = turning[k];
    }
  }
}

void EllipseSums::add_up(ImageView<const float> weights) noexcept {
  rows_ = weights.rows;
  cols_ = weights.cols;
  MNEMON_ASSERT(rows_ <= sums_.rows() && cols_ < sums_.cols());
  int r = 0;
  for (; r + kRowsAbreast <= rows_; r += kRowsAbreast) add_rows<kRowsAbreast>(weights, r);
  for (; r < rows_; ++r) add_rows<1>(weights, r);
}

EllipseSums::Sum EllipseSums::in(const Ellipse& ellipse) const noexcept {
  Sum sum;
  double x = 0;
  double y = 0;
  const int top = std::max(0, static_cast<int>(std::floor(ellipse.middle.y - ellipse.half_h)));
  const int bottom = std::min(rows_, static_cast<int>(std::ceil(ellipse.middle.y + ellipse.half_h)));
  for (int r = top; r < bottom; ++r) {
    const double down = (r + 0.5 - ellipse.middle.y) / ellipse.half_h;
    if (down * down >= 1) continue;
    const double half = ellipse.half_w * std::sqrt(1 - down * down);
    const int left = std::clamp(static_cast<int>(std::lround(ellipse.middle.x - half)), 0, cols_);
    const int right = std::clamp(static_cast<int>(std::lround(ellipse.middle.x + half)), left, cols_);
    const double mass = static_cast<double>(sums_(r, right)) - sums_(r, left);
    sum.mass += mass;
    sum.count += right - left;
    x += static_cast<double>(moments_(r, right)) - moments_(r, left);
    y += mass * (r + 0.5);
  }
  sum.middle = sum.mass > 0 ? Point{x / sum.mass, y / sum.mass} : ellipse.middle;
  return sum;
}

}  // namespace mnemon
