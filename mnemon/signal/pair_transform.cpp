// SPDX-License-Identifier: MIT
#include <mnemon/signal/pair_transform.hpp>

#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

ComplexPlan plan_of(int rows, int cols, int channels) {
  if (rows < 1 || cols < 1 || rows > kLongestSide || cols > kLongestSide || channels < 2 || channels % 2 != 0)
    throw CallError(fmt::format(
        "a transform of {} x {} x {} in pairs is impossible: each side must be 1 to {}, the channels even",
        rows, cols, channels, kLongestSide));
  return {rows, cols, channels / 2};
}

}  // namespace

PairTransform::PairTransform(int rows, int cols, int channels)
    : rows_(rows), cols_(cols), channels_(channels), plan_(plan_of(rows, cols, channels)) {}

// A pair of floats is a complex number as it lies in memory.
void PairTransform::forward_into(ImageView<const float> stack, ImageView<Complex> spectrum) const noexcept {
  MNEMON_ASSERT(stack.is_contiguous() && stack.rows == rows_ && stack.cols == cols_ &&
                stack.channels == channels_);
  MNEMON_ASSERT(spectrum.is_contiguous() && spectrum.cols == cols_ && spectrum.channels == pairs());
  plan_.forward(reinterpret_cast<const Complex*>(stack.data), spectrum.data);
}

void PairTransform::inverse_unscaled_into(ImageView<const Complex> spectrum,
                                          ImageView<float> stack) const noexcept {
  MNEMON_ASSERT(stack.is_contiguous() && stack.rows == rows_ && stack.cols == cols_ &&
                stack.channels == channels_);
  MNEMON_ASSERT(spectrum.is_contiguous() && spectrum.cols == cols_ && spectrum.channels == pairs());
  plan_.backward(spectrum.data, reinterpret_cast<Complex*>(stack.data));
}

int fast_side(double wanted, bool single) noexcept {
  int best = 16;
  for (const int side : {20, 32, 64, 80, 100, 128})
    if ((single || (side != 80 && side != 100)) &&
        std::abs(std::log(side / wanted)) < std::abs(std::log(best / wanted)))
      best = side;
  return best;
}

}  // namespace mnemon
