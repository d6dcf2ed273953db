// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/linear_filter.hpp>

#include <algorithm>

#include <mnemon/base/clones.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/signal/windows.hpp>
#include <mnemon/track/corr/spectra.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void learn_all(const float* __restrict goal, const float* __restrict patch, float rate,
                             float regulariser, float* __restrict numerator, float* __restrict denominator,
                             float* __restrict filter, std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float gr = goal[2 * i], gi = goal[2 * i + 1];
    const float pr = patch[2 * i], pi = patch[2 * i + 1];
    const float nr = numerator[2 * i] + rate * (gr * pr + gi * pi - numerator[2 * i]);
    const float ni = numerator[2 * i + 1] + rate * (gi * pr - gr * pi - numerator[2 * i + 1]);
    const float d = denominator[i] + rate * (pr * pr + pi * pi - denominator[i]);
    const float scale = 1.0f / (d + regulariser);
    numerator[2 * i] = nr;
    numerator[2 * i + 1] = ni;
    denominator[i] = d;
    filter[2 * i] = nr * scale;
    filter[2 * i + 1] = ni * scale;
  }
}

MNEMON_CLONES void multiply_all(const float* __restrict by, float* __restrict values,
                                std::size_t count) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float ar = by[2 * i], ai = by[2 * i + 1];
    const float br = values[2 * i], bi = values[2 * i + 1];
    values[2 * i] = ar * br - ai * bi;
    values[2 * i + 1] = ar * bi + ai * br;
  }
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
      response_(transform_.make_stack()) {
  const Cell rest{rows / 2, cols / 2};
  const Point middle{rest.col + 0.5, rest.row + 0.5};
  const Image<float> goal = gaussian_goal(rows, cols, middle, goal_sigma);
  transform_.forward_into(goal.view(), goal_.view());
}

void LinearFilter::learn(ImageView<const float> patch, float rate) noexcept {
  transform_.forward_into(patch, spectrum_.view());
  learn_all(parts(goal_), parts(spectrum_), rate, regulariser_, parts(numerator_), denominator_.view().data,
            parts(filter_), denominator_.elements().size());
}

ImageView<const float> LinearFilter::respond(ImageView<const float> patch) noexcept {
  transform_.forward_into(patch, spectrum_.view());
  multiply_all(parts(filter_), parts(spectrum_), denominator_.elements().size());
  transform_.inverse_into(spectrum_.view(), response_.view());
  return response_.view();
}

void LinearFilter::keep() noexcept {
  std::ranges::copy(numerator_.elements(), kept_numerator_.elements().begin());
  std::ranges::copy(denominator_.elements(), kept_denominator_.elements().begin());
}

// Learning at rate 0 works the filter out of the numerator and the denominator again.
void LinearFilter::go_back() noexcept {
  std::ranges::copy(kept_numerator_.elements(), numerator_.elements().begin());
  std::ranges::copy(kept_denominator_.elements(), denominator_.elements().begin());
  learn_all(parts(goal_), parts(spectrum_), 0, regulariser_, parts(numerator_), denominator_.view().data,
            parts(filter_), denominator_.elements().size());
}

// The response is the patch convolved with the inverse transform of `filter_`. Turned about half the middle
// sample, that is what lies over the patch when the response is read at its middle.
Image<float> LinearFilter::picture() const {
  Image<Complex> spectrum = copy_of(filter_.view());
  Image<float> kernel = transform_.make_stack();
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
