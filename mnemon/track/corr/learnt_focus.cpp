// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/learnt_focus.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

constexpr double kReach = 1.5;  // of the focus: beyond it less than a twentieth is learnt

}  // namespace

LearntFocus::LearntFocus(const PatchWindow& window, double size) {
  if (size <= 0) return;
  const Point share = window.target_share();
  // About 1 over the target and nearly 0 beyond the focus.
  const auto along = [size](int i, int count, double part) {
    const double from = (2 * (i + 0.5) / count - 1) / (part * size);
    return 1 / (1 + std::pow(from, 8));
  };
  weights_ = Image<float>(window.rows(), window.cols());
  for (int r = 0; r < weights_.rows(); ++r)
    for (int c = 0; c < weights_.cols(); ++c)
      weights_(r, c) =
          static_cast<float>(along(r, weights_.rows(), share.y) * along(c, weights_.cols(), share.x));
  const auto cells_of = [size](int cells, double part) {
    return std::min(cells, 2 * static_cast<int>(std::ceil(0.5 * kReach * size * part * cells)));
  };
  rows_ = cells_of(window.rows(), share.y);
  cols_ = cells_of(window.cols(), share.x);
}

void LearntFocus::keep_to_middle(WindowFeatures& features) const {
  if (!weights_.empty()) features.keep_to_middle(rows_, cols_);
}

ImageView<const float> LearntFocus::of(ImageView<const float> stack) {
  if (weights_.empty()) return stack;
  if (faded_.empty()) faded_ = Image<float>(stack.rows, stack.cols, stack.channels);
  const int cells = stack.rows * stack.cols;
  for (int i = 0; i < cells; ++i)
    for (int k = 0; k < stack.channels; ++k)
      faded_.view().data[i * stack.channels + k] =
          stack.data[i * stack.channels + k] * weights_.elements()[i];
  return faded_.view();
}

}  // namespace mnemon
