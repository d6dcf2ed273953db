// SPDX-License-Identifier: MIT
#include <mnemon/vision/ellipse_sums.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {

void EllipseSums::add_up(ImageView<const float> weights) noexcept {
  rows_ = weights.rows;
  cols_ = weights.cols;
  MNEMON_ASSERT(rows_ <= sums_.rows() && cols_ < sums_.cols());
  for (int r = 0; r < rows_; ++r) {
    const float* const weight = weights.row(r);
    float* const sum = sums_.view().row(r);
    float* const moment = moments_.view().row(r);
    for (int c = 0; c < cols_; ++c) {
      sum[c + 1] = sum[c] + weight[c];
      moment[c + 1] = moment[c] + weight[c] * (static_cast<float>(c) + 0.5f);
    }
  }
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
