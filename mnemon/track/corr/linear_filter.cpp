// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/linear_filter.hpp>

#include <algorithm>

#include <mnemon/base/clones.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/signal/windows.hpp>
#include <mnemon/track/corr/complex_lanes.hpp>
#include <mnemon/track/corr/spectra.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void learn_numerator(const float* __restrict goal, const float* __restrict patch, float rate,
                                   std::size_t floats, float* __restrict numerator) noexcept {
  for (std::size_t i = 0; i < floats; i += 8) {
    const Eight now = load(numerator + i);
    store(now + rate * (conjugate_product(load(patch + i), load(goal + i)) - now), numerator + i);
  }
}

MNEMON_CLONES void learn_denominator(const float* __restrict patch, float rate, std::size_t count,
                                     float* __restrict denominator) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float power = patch[2 * i] * patch[2 * i] + patch[2 * i + 1] * patch[2 * i + 1];
    denominator[i] += rate * (power - denominator[i]);
  }
}

MNEMON_CLONES void divide_all(const float* __restrict numerator, const float* __restrict denominator,
                              float regulariser, std::size_t count, float* __restrict filter) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float scale = 1.0f / (denominator[i] + regulariser);
    filter[2 * i] = numerator[2 * i] * scale;
    filter[2 * i + 1] = numerator[2 * i + 1] * scale;
  }
}

MNEMON_CLONES void multiply_all(const float* __restrict by, std::size_t floats,
                                float* __restrict values) noexcept {
  for (std::size_t i = 0; i < floats; i += 8) store(product(load(by + i), load(values + i)), values + i);
}

}  // namespace

LinearFilter::LinearFilter(int rows, int cols, double goal_sigma, double regulariser)
    : transform_(rows, cols),
      regulariser_(static_cast<float>(regulariser)),
      goal_(transform_.make_spectrum()),
      numerator_(transform_.make_spectrum()),
      denominator_(rows, transform_.spectrum_cols()),
      kept_numerator_(transform_.make_spectrum()),
      kept_denominator_(rows, transform_.spectrum_cols()),
      filter_(transform_.make_spectrum()),
      spectrum_(transform_.make_spectrum()),
      response_(transform_.make_picture()) {
  MNEMON_ASSERT(rows % 4 == 0);  // for whole lanes
  const Cell rest{rows / 2, cols / 2};
  const Point middle{rest.col + 0.5, rest.row + 0.5};
  const Image<float> goal = gaussian_goal(rows, cols, middle, goal_sigma);
  transform_.forward_into(goal.view(), goal_.view());
}

void LinearFilter::learn(ImageView<const float> patch, float rate) noexcept {
  transform_.forward_into(patch, spectrum_.view());
  learn_numerator(parts(goal_), parts(spectrum_), rate, floats(numerator_).size(), parts(numerator_));
  learn_denominator(parts(spectrum_), rate, denominator_.elements().size(), denominator_.view().data);
  divide();
}

void LinearFilter::divide() noexcept {
  divide_all(parts(numerator_), denominator_.view().data, regulariser_, denominator_.elements().size(),
             parts(filter_));
}

ImageView<const float> LinearFilter::respond(ImageView<const float> patch) noexcept {
  transform_.forward_into(patch, spectrum_.view());
  multiply_all(parts(filter_), floats(filter_).size(), parts(spectrum_));
  transform_.inverse_into(spectrum_.view(), response_.view());
  return response_.view();
}

void LinearFilter::keep() noexcept {
  std::ranges::copy(numerator_.elements(), kept_numerator_.elements().begin());
  std::ranges::copy(denominator_.elements(), kept_denominator_.elements().begin());
}

void LinearFilter::go_back() noexcept {
  std::ranges::copy(kept_numerator_.elements(), numerator_.elements().begin());
  std::ranges::copy(kept_denominator_.elements(), denominator_.elements().begin());
  divide();
}

// The response is the patch convolved with the inverse transform of `filter_`. Turned about half the middle
// sample, that is what lies over the patch when the response is read at its middle.
Image<float> LinearFilter::picture() const {
  Image<Complex> spectrum = copy_of(filter_.view());
  Image<float> kernel = transform_.make_picture();
  transform_.inverse_into(spectrum.view(), kernel.view());
  const int rows = transform_.rows();
  const int cols = transform_.cols();
  Image<float> picture(rows, cols);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      picture(r, c) = kernel((rows / 2 - r + rows) % rows, (cols / 2 - c + cols) % cols);
  return picture;
}

}  // namespace mnemon
