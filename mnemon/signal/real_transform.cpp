// SPDX-License-Identifier: MIT
// With pair_transform.cpp the only file that sees FFTW: to use another library, replace these two.
#include <mnemon/signal/stack_transform.hpp>

#include <array>
#include <cstdint>

#include <fftw3.h>
#include <fmt/format.h>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/signal/planner.hpp>

namespace mnemon {
namespace {

using Shape = std::array<int, 3>;

fftwf_complex* as_fftw(Complex* values) noexcept { return reinterpret_cast<fftwf_complex*>(values); }

MNEMON_CLONES void scale_all(float* values, float factor, std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) values[i] *= factor;
}

[[maybe_unused]] bool is_aligned(const void* data) noexcept {
  return reinterpret_cast<std::uintptr_t>(data) % 64 == 0;
}

}  // namespace

std::mutex& detail::planner_mutex() {
  static std::mutex mutex;
  return mutex;
}

struct StackTransform::Plans {
  fftwf_plan forward = nullptr;
  fftwf_plan inverse = nullptr;

  explicit Plans(const Shape& shape) {
    const auto [rows, cols, channels] = shape;
    Image<float> stack(rows, cols, channels);
    Image<Complex> spectrum(rows, cols / 2 + 1, channels);
    const int size[] = {rows, cols};
    // FFTW_ESTIMATE chooses by rule. Timing the candidates would choose differently from run to run.
    forward = fftwf_plan_many_dft_r2c(2, size, channels, stack.view().data, nullptr, channels, 1,
                                      as_fftw(spectrum.view().data), nullptr, channels, 1,
                                      FFTW_ESTIMATE | FFTW_PRESERVE_INPUT);
    inverse =
        fftwf_plan_many_dft_c2r(2, size, channels, as_fftw(spectrum.view().data), nullptr, channels, 1,
                                stack.view().data, nullptr, channels, 1, FFTW_ESTIMATE | FFTW_DESTROY_INPUT);
  }
  Plans(const Plans&) = delete;
  Plans& operator=(const Plans&) = delete;
  ~Plans() {
    fftwf_destroy_plan(forward);
    fftwf_destroy_plan(inverse);
  }
};

StackTransform::StackTransform(int rows, int cols, int channels)
    : rows_(rows), cols_(cols), channels_(channels) {
  if (rows < 1 || cols < 1 || channels < 1)
    throw CallError(fmt::format("a transform of {} x {} x {} is impossible: each must be at least 1", rows,
                                cols, channels));
  plans_ = detail::plans_of<Plans>(Shape{rows, cols, channels});
}

void StackTransform::forward_into(ImageView<const float> stack, ImageView<Complex> spectrum) const noexcept {
  MNEMON_ASSERT(stack.is_contiguous() && is_aligned(stack.data) && stack.rows == rows_ &&
                stack.cols == cols_);
  MNEMON_ASSERT(spectrum.is_contiguous() && is_aligned(spectrum.data) && spectrum.cols == spectrum_cols());
  // FFTW takes no pointer to const; planned to preserve its input, it only reads.
  fftwf_execute_dft_r2c(plans_->forward, const_cast<float*>(stack.data), as_fftw(spectrum.data));
}

void StackTransform::inverse_into(ImageView<Complex> spectrum, ImageView<float> stack) const noexcept {
  MNEMON_ASSERT(stack.is_contiguous() && is_aligned(stack.data) && stack.rows == rows_ &&
                stack.cols == cols_);
  MNEMON_ASSERT(spectrum.is_contiguous() && is_aligned(spectrum.data) && spectrum.cols == spectrum_cols());
  fftwf_execute_dft_c2r(plans_->inverse, as_fftw(spectrum.data), stack.data);
  const float factor = 1.0f / (static_cast<float>(rows_) * static_cast<float>(cols_));
  scale_all(stack.data, factor, stack.size());
}

int fast_size(int least) noexcept {
  if (least <= 1) return 1;
  for (int size = least + least % 2;; size += 2) {
    int rest = size;
    for (const int factor : {2, 3, 5, 7})
      while (rest % factor == 0) rest /= factor;
    if (rest == 1) return size;
  }
}

}  // namespace mnemon
