// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/kernel_filter.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/track/corr/complex_lanes.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>

namespace mnemon {
namespace {

// Correlations become kernel values, each with a 0 behind it as the second of its pair.
MNEMON_CLONES void gaussian_all(const float* __restrict shared, float energies, float scale,
                                std::size_t count, float* __restrict out) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    const float squared = energies - 2 * shared[i];
    out[2 * i] = exp_of_negative(-scale * (squared > 0 ? squared : 0));
    out[2 * i + 1] = 0;
  }
}

MNEMON_CLONES void linear_all(const float* __restrict shared, float scale, std::size_t count,
                              float* __restrict out) noexcept {
  for (std::size_t i = 0; i < count; ++i) {
    out[2 * i] = scale * shared[i];
    out[2 * i + 1] = 0;
  }
}

// to += rate (goal / (alike + added) - to)
MNEMON_CLONES void solve_all(const float* __restrict goal, const float* __restrict alike, float added,
                             float rate, std::size_t floats, float* __restrict to) noexcept {
  const Eight regulariser = {added, 0, added, 0, added, 0, added, 0};
  for (std::size_t i = 0; i < floats; i += 8) {
    const Eight divisor = load(alike + i) + regulariser;
    const Eight squares = divisor * divisor;
    const Eight scale = 1.0f / (squares + swapped(squares));
    const Eight now = load(to + i);
    store(now + rate * (conjugate_product(divisor, load(goal + i)) * scale - now), to + i);
  }
}

MNEMON_CLONES void multiply_all(const float* __restrict a, const float* __restrict b, std::size_t floats,
                                float* __restrict out) noexcept {
  for (std::size_t i = 0; i < floats; i += 8) store(product(load(a + i), load(b + i)), out + i);
}

}  // namespace

KernelFilter::KernelFilter(int rows, int cols, int channels, double goal_sigma, double regulariser,
                           Kernel kernel, double kernel_sigma)
    : transform_(rows, cols, channels),
      plane_(rows, cols, 2),
      regulariser_(static_cast<float>(regulariser)),
      kernel_(kernel),
      kernel_sigma_(kernel_sigma),
      goal_(goal_spectrum(rows, cols, goal_sigma)),
      spectrum_(transform_.make_spectrum()),
      model_(transform_.make_spectrum()),
      kept_model_(transform_.make_spectrum()),
      weights_(plane_.make_spectrum()),
      kept_weights_(plane_.make_spectrum()),
      alike_(plane_.make_stack()),
      alike_spectrum_(plane_.make_spectrum()),
      response_(rows, cols) {}

void KernelFilter::kernel_of(const Image<Complex>& a, float a_energy, const Image<Complex>& b,
                             float b_energy) noexcept {
  correlate_into(a, b, response_.spectrum());
  const ImageView<const float> shared = response_.make();
  if (kernel_ == Kernel::gaussian)
    gaussian_all(shared.data, a_energy + b_energy, scale_, shared.size(), alike_.view().data);
  else
    linear_all(shared.data, scale_, shared.size(), alike_.view().data);
  plane_.forward_into(alike_.view(), alike_spectrum_.view());
}

void KernelFilter::learn(ImageView<const float> stack, float rate) noexcept {
  transform_.forward_into(stack, spectrum_.view());
  const float energy = sum_of_squares(stack.elements());
  if (scale_ <= 0) {
    const double norm = std::max(1e-6, static_cast<double>(energy));
    scale_ =
        static_cast<float>(1 / (kernel_ == Kernel::gaussian ? kernel_sigma_ * kernel_sigma_ * norm : norm));
  }
  kernel_of(spectrum_, energy, spectrum_, energy);
  solve_all(parts(goal_), parts(alike_spectrum_), regulariser_, rate, floats(weights_).size(),
            parts(weights_));
  blend_towards(floats(spectrum_), rate, floats(model_));
  // Parseval: the energy in space is the mean one over the frequencies.
  const float cells = static_cast<float>(transform_.rows() * transform_.cols());
  model_energy_ = sum_of_squares(floats(model_)) / cells;
}

ImageView<const float> KernelFilter::respond(ImageView<const float> stack) noexcept {
  transform_.forward_into(stack, spectrum_.view());
  kernel_of(model_, model_energy_, spectrum_, sum_of_squares(stack.elements()));
  multiply_all(parts(weights_), parts(alike_spectrum_), floats(weights_).size(), parts(response_.spectrum()));
  return response_.make();
}

void KernelFilter::keep() noexcept {
  std::ranges::copy(model_.elements(), kept_model_.elements().begin());
  std::ranges::copy(weights_.elements(), kept_weights_.elements().begin());
  kept_energy_ = model_energy_;
}

void KernelFilter::go_back() noexcept {
  std::ranges::copy(kept_model_.elements(), model_.elements().begin());
  std::ranges::copy(kept_weights_.elements(), weights_.elements().begin());
  model_energy_ = kept_energy_;
}

Image<float> KernelFilter::picture() const {
  Image<float> model = transform_.make_stack();
  transform_.inverse_unscaled_into(model_.view(), model.view());
  return strength_picture(model);
}

}  // namespace mnemon
