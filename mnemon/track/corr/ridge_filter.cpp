// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/ridge_filter.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void divide_all(const float* __restrict denominator, float added, std::size_t count,
                              float* __restrict values) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float scale = 1.0f / (denominator[i] + added);
    values[2 * i] *= scale;
    values[2 * i + 1] *= scale;
  }
}

}  // namespace

RidgeFilter::RidgeFilter(int rows, int cols, int channels, double goal_sigma, double regulariser)
    : transform_(rows, cols, channels),
      regulariser_(regulariser),
      goal_(goal_spectrum(rows, cols, goal_sigma)),
      spectrum_(transform_.make_spectrum()),
      numerator_(transform_.make_spectrum()),
      kept_numerator_(transform_.make_spectrum()),
      power_(rows, cols),
      work_(rows, cols),
      denominator_(rows, cols),
      kept_denominator_(rows, cols),
      response_(rows, cols) {}

void RidgeFilter::learn(ImageView<const float> stack, float rate) noexcept {
  transform_.forward_into(stack, spectrum_.view());
  power_into(spectrum_, work_, power_);
  blend_with_goal(goal_, spectrum_, rate, numerator_);
  blend_towards(power_.elements(), rate, denominator_.elements());
  if (added_ > 0) return;
  const float mean = sum_of(power_.elements()) / static_cast<float>(power_.elements().size());
  added_ = std::max(1e-6f, static_cast<float>(regulariser_) * mean);
}

ImageView<const float> RidgeFilter::respond(ImageView<const float> stack) noexcept {
  transform_.forward_into(stack, spectrum_.view());
  correlate_into(numerator_, spectrum_, response_.spectrum());
  divide_all(denominator_.view().data, added_, denominator_.elements().size(), parts(response_.spectrum()));
  return response_.make();
}

void RidgeFilter::keep() noexcept {
  std::ranges::copy(numerator_.elements(), kept_numerator_.elements().begin());
  std::ranges::copy(denominator_.elements(), kept_denominator_.elements().begin());
}

void RidgeFilter::go_back() noexcept {
  std::ranges::copy(kept_numerator_.elements(), numerator_.elements().begin());
  std::ranges::copy(kept_denominator_.elements(), denominator_.elements().begin());
}

// The goal's middle is taken out of the numerators again, so that the target comes to lie in the middle.
Image<float> RidgeFilter::picture() const {
  Image<Complex> filter = copy_of(numerator_.view());
  for (int r = 0; r < filter.rows(); ++r)
    for (int c = 0; c < filter.cols(); ++c)
      for (int k = 0; k < filter.channels(); ++k)
        filter(r, c, k) *= ((r + c) % 2 == 0 ? 1.0f : -1.0f) / (denominator_(r, c) + added_);
  Image<float> kernel = transform_.make_stack();
  transform_.inverse_unscaled_into(filter.view(), kernel.view());
  return strength_picture(kernel);
}

Image<float> strength_picture(const Image<float>& kernel) {
  Image<float> picture(kernel.rows(), kernel.cols());
  for (int r = 0; r < kernel.rows(); ++r)
    for (int c = 0; c < kernel.cols(); ++c) {
      float squares = 0;
      for (int k = 0; k < kernel.channels(); ++k) squares += kernel(r, c, k) * kernel(r, c, k);
      picture(r, c) = std::sqrt(squares) / static_cast<float>(kernel.rows() * kernel.cols());
    }
  return picture;
}

}  // namespace mnemon
