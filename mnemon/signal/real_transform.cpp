// SPDX-License-Identifier: MIT
#include <mnemon/signal/real_transform.hpp>

#include <cstdint>

#include <fmt/format.h>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void scale_all(float* values, float factor, std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) values[i] *= factor;
}

[[maybe_unused]] bool is_aligned(const void* data) noexcept {
  return reinterpret_cast<std::uintptr_t>(data) % 64 == 0;
}

RealPlan plan_of(int rows, int cols) {
  if (rows < 1 || cols < 1 || rows > kLongestSide || cols > kLongestSide)
    throw CallError(fmt::format("a transform of {} x {} is impossible: each side must be 1 to {}", rows, cols,
                                kLongestSide));
  return {rows, cols};
}

}  // namespace

RealTransform::RealTransform(int rows, int cols) : rows_(rows), cols_(cols), plan_(plan_of(rows, cols)) {}

void RealTransform::forward_into(ImageView<const float> picture, ImageView<Complex> spectrum) const noexcept {
  MNEMON_ASSERT(picture.is_contiguous() && is_aligned(picture.data) && picture.rows == rows_ &&
                picture.cols == cols_);
  MNEMON_ASSERT(spectrum.is_contiguous() && is_aligned(spectrum.data) && spectrum.cols == spectrum_cols());
  plan_.forward(picture.data, spectrum.data);
}

void RealTransform::inverse_into(ImageView<Complex> spectrum, ImageView<float> picture) const noexcept {
  MNEMON_ASSERT(picture.is_contiguous() && is_aligned(picture.data) && picture.rows == rows_ &&
                picture.cols == cols_);
  MNEMON_ASSERT(spectrum.is_contiguous() && is_aligned(spectrum.data) && spectrum.cols == spectrum_cols());
  plan_.backward(spectrum.data, picture.data);
  const float factor = 1.0f / (static_cast<float>(rows_) * static_cast<float>(cols_));
  scale_all(picture.data, factor, picture.size());
}

}  // namespace mnemon
