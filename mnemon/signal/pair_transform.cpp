// SPDX-License-Identifier: MIT
#include <mnemon/signal/pair_transform.hpp>

#include <array>
#include <cmath>

#include <fftw3.h>
#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/signal/planner.hpp>

namespace mnemon {
namespace {

using Shape = std::array<int, 3>;

fftwf_complex* as_fftw(const void* values) noexcept {
  return static_cast<fftwf_complex*>(const_cast<void*>(values));
}

}  // namespace

struct PairTransform::Plans {
  fftwf_plan forward = nullptr;
  fftwf_plan inverse = nullptr;

  explicit Plans(const Shape& shape) {
    const auto [rows, cols, pairs] = shape;
    Image<Complex> from(rows, cols, pairs);
    Image<Complex> to(rows, cols, pairs);
    const auto plan = [&, rows = rows, cols = cols, pairs = pairs](int direction) {
      const int size[] = {rows, cols};
      return fftwf_plan_many_dft(2, size, pairs, as_fftw(from.view().data), nullptr, pairs, 1,
                                 as_fftw(to.view().data), nullptr, pairs, 1, direction,
                                 FFTW_ESTIMATE | FFTW_PRESERVE_INPUT);
    };
    forward = plan(FFTW_FORWARD);
    inverse = plan(FFTW_BACKWARD);
  }
  Plans(const Plans&) = delete;
  Plans& operator=(const Plans&) = delete;
  ~Plans() {
    fftwf_destroy_plan(forward);
    fftwf_destroy_plan(inverse);
  }
};

PairTransform::PairTransform(int rows, int cols, int channels)
    : rows_(rows), cols_(cols), channels_(channels) {
  if (rows < 1 || cols < 1 || channels < 2 || channels % 2 != 0)
    throw CallError(fmt::format(
        "a transform of {} x {} x {} in pairs is impossible: each must be at least 1, the channels even",
        rows, cols, channels));
  plans_ = detail::plans_of<Plans>(Shape{rows, cols, channels / 2});
}

void PairTransform::forward_into(ImageView<const float> stack, ImageView<Complex> spectrum) const noexcept {
  MNEMON_ASSERT(stack.is_contiguous() && stack.rows == rows_ && stack.cols == cols_ &&
                stack.channels == channels_);
  MNEMON_ASSERT(spectrum.is_contiguous() && spectrum.cols == cols_ && spectrum.channels == pairs());
  fftwf_execute_dft(plans_->forward, as_fftw(stack.data), as_fftw(spectrum.data));
}

void PairTransform::inverse_unscaled_into(ImageView<const Complex> spectrum,
                                          ImageView<float> stack) const noexcept {
  MNEMON_ASSERT(stack.is_contiguous() && stack.rows == rows_ && stack.cols == cols_ &&
                stack.channels == channels_);
  MNEMON_ASSERT(spectrum.is_contiguous() && spectrum.cols == cols_ && spectrum.channels == pairs());
  fftwf_execute_dft(plans_->inverse, as_fftw(spectrum.data), as_fftw(stack.data));
}

int fast_side(double wanted) noexcept {
  int best = 16;
  for (const int side : {20, 32, 64, 128})
    if (std::abs(std::log(side / wanted)) < std::abs(std::log(best / wanted))) best = side;
  return best;
}

}  // namespace mnemon
