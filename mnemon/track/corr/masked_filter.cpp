// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/masked_filter.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/track/corr/complex_lanes.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>
#include <mnemon/track/corr/target_mask.hpp>

namespace mnemon {
namespace {

// The constraint's weight at first, in mean powers of a channel, and what it grows by each time: the paper's 5 and 3.
constexpr float kFirstWeight = 1.5f;
constexpr float kWeightGrowth = 3;
// A channel whose answer is no peak at all still counts for half, as in the paper.
constexpr float kLeastAlone = 0.5f;
constexpr int kPeakRadius = 3;  // cells around the common peak that a second peak is looked for outside of

// Below, `here` and `mirror` are the lines of pairs at a frequency and at its mirror image. Their sum and difference
// hold twice the spectra of the two channels of each pair: a = (sum_r + i diff_i) / 2, b = (sum_i - i diff_r) / 2.

MNEMON_CLONES void powers_of(const float* __restrict here, const float* __restrict mirror, int length,
                             float* __restrict power) noexcept {
  for (int k = 0; k < length; k += 8) {
    const Eight sum = load(here + k) + load(mirror + k);
    const Eight diff = load(here + k) - load(mirror + k);
    store(0.25f * (sum * sum + swapped(diff * diff)), power + k);
  }
}

// Divides each channel by its own power plus `added`.
MNEMON_CLONES void divide_line(const float* __restrict here, const float* __restrict mirror,
                               const float* __restrict power, float added, int length,
                               float* __restrict out) noexcept {
  for (int k = 0; k < length; k += 8) {
    const Eight share = 0.5f / (load(power + k) + added);
    const Eight other = swapped(share);
    store(load(here + k) * (share + other) + load(mirror + k) * (share - other), out + k);
  }
}

// conj(filter) x stack, channel by channel.
MNEMON_CLONES void multiply_line(const float* __restrict f_here, const float* __restrict f_mirror,
                                 const float* __restrict s_here, const float* __restrict s_mirror, int length,
                                 float* __restrict out) noexcept {
  for (int k = 0; k < length; k += 8) {
    const Eight f_sum = load(f_here + k) + load(f_mirror + k);
    const Eight f_diff = load(f_here + k) - load(f_mirror + k);
    const Eight s_sum = load(s_here + k) + load(s_mirror + k);
    const Eight s_diff = load(s_here + k) - load(s_mirror + k);
    // Of the stack's a and b: twice the numbers themselves, real part before imaginary.
    const Eight a = __builtin_shufflevector(s_sum, s_diff, 0, 9, 2, 11, 4, 13, 6, 15);
    const Eight b = __builtin_shufflevector(s_diff, s_sum, 0, 9, 2, 11, 4, 13, 6, 15);
    const Eight of_a = real_twice(f_sum) * a + kOddNegative * (imaginary_twice(f_diff) * swapped(a));
    const Eight of_b = imaginary_twice(f_sum) * b - kOddNegative * (real_twice(f_diff) * swapped(b));
    store(0.25f * (of_a + of_b), out + k);
  }
}

// The right side of the regression that is free of the mask: goal x stack + weight x fresh - multiplier.
MNEMON_CLONES void right_side(const float* __restrict goal, const float* __restrict stack,
                              const float* __restrict fresh, const float* __restrict multiplier, float weight,
                              int count, int length, float* __restrict out) noexcept {
  for (int i = 0; i < count; ++i) {
    const float re = goal[2 * i];
    const float im = goal[2 * i + 1];
    const std::ptrdiff_t at = static_cast<std::ptrdiff_t>(i) * length;
    for (std::ptrdiff_t k = at; k < at + length; k += 8) {
      const Eight values = load(stack + k);
      const Eight answer = re * values + kOddNegative * (im * swapped(values));
      store(answer + (weight * load(fresh + k) - load(multiplier + k)), out + k);
    }
  }
}

MNEMON_CLONES void add_scaled(const float* __restrict a, const float* __restrict b, float scale,
                              std::size_t count, float* __restrict out) noexcept {
  for (std::size_t i = 0; i < count; ++i) out[i] = a[i] + scale * b[i];
}

// multiplier += weight (free - fresh)
MNEMON_CLONES void raise_multiplier(const float* __restrict free, const float* __restrict fresh, float weight,
                                    std::size_t count, float* __restrict multiplier) noexcept {
  for (std::size_t i = 0; i < count; ++i) multiplier[i] += weight * (free[i] - fresh[i]);
}

MNEMON_CLONES void mask_all(const float* __restrict mask, int cells, int channels,
                            float* __restrict stack) noexcept {
  for (int i = 0; i < cells; ++i)
    for (int k = 0; k < channels; ++k) stack[i * channels + k] *= mask[i];
}

MNEMON_CLONES void weighted_sums(const float* __restrict stack, const float* __restrict weights, int cells,
                                 int channels, float* __restrict out) noexcept {
  for (int i = 0; i < cells; ++i) {
    Eight sum{};
    for (int k = 0; k < channels; k += 8) sum += load(stack + i * channels + k) * load(weights + k);
    out[i] = sum_of_lanes(sum);
  }
}

MNEMON_CLONES void raise_to_highest(const float* __restrict cells, int count, int channels,
                                    float* __restrict highest) noexcept {
  for (int i = 0; i < count; ++i)
    for (int k = 0; k < channels; ++k) {
      const float v = cells[i * channels + k];
      highest[k] = v > highest[k] ? v : highest[k];
    }
}

// use(line, mirrored line) for every frequency, as places among the cells.
template <class Use>
void for_each_mirrored(int rows, int cols, Use use) {
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      use(static_cast<std::ptrdiff_t>(r) * cols + c,
          static_cast<std::ptrdiff_t>((rows - r) % rows) * cols + (cols - c) % cols);
}

void normalise(std::span<float> weights) noexcept {
  const float sum = std::accumulate(weights.begin(), weights.end(), 0.0f);
  for (float& weight : weights) weight = sum > 0 ? weight / sum : 1.0f / static_cast<float>(weights.size());
}

constexpr int kMostChannels = 64;  // of the features, for arrays of a fixed size

}  // namespace

MaskedFilter::MaskedFilter(int rows, int cols, int channels, const Options& options)
    : transform_(rows, cols, channels),
      options_(options),
      goal_(goal_spectrum(rows, cols, options.goal_sigma)),
      spectrum_(transform_.make_spectrum()),
      filter_(transform_.make_spectrum()),
      kept_filter_(transform_.make_spectrum()),
      fresh_(transform_.make_spectrum()),
      multiplier_(transform_.make_spectrum()),
      free_(transform_.make_spectrum()),
      products_(transform_.make_spectrum()),
      power_(rows, cols, channels),
      stack_(transform_.make_stack()),
      mask_(rows, cols),
      rolled_(rows, cols),
      response_(rows, cols),
      weights_(channels, 1.0f / static_cast<float>(channels)),
      kept_weights_(weights_),
      learning_(weights_),
      answering_(channels, 1.0f),
      alone_(channels, 1.0f) {
  MNEMON_ASSERT(channels <= kMostChannels && channels % 8 == 0);
  std::ranges::fill(mask_.elements(), 1.0f);
}

void MaskedFilter::learn(ImageView<const float> stack, float rate) noexcept {
  transform_.forward_into(stack, spectrum_.view());
  const int length = transform_.channels();
  for_each_mirrored(stack.rows, stack.cols, [&](std::ptrdiff_t here, std::ptrdiff_t mirror) {
    powers_of(parts(spectrum_) + here * length, parts(spectrum_) + mirror * length, length,
              power_.view().data + here * length);
  });
  const float mean =
      std::max(1e-6f, sum_of(power_.elements()) / static_cast<float>(power_.elements().size()));
  added_ = static_cast<float>(options_.regulariser) * mean;
  roll_mask();
  solve();
  const float share = seeded_ ? rate : 1.0f;
  blend_towards(floats(std::as_const(fresh_)), share, floats(filter_));
  weigh_channels(seeded_ ? static_cast<float>(options_.channel_rate) : 1.0f);
  seeded_ = true;
}

void MaskedFilter::take_likelihood(ImageView<const float> likelihood, Point share) noexcept {
  target_mask_into(likelihood, share, mask_.view());
}

// A filter whose goal is the middle cell has the target about its first cell, and so must the mask.
void MaskedFilter::roll_mask() noexcept {
  const int rows = mask_.rows();
  const int cols = mask_.cols();
  const float scale = 1.0f / static_cast<float>(rows * cols);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      rolled_(r, c) = scale * mask_((r + rows / 2) % rows, (c + cols / 2) % cols);
}

void MaskedFilter::solve() noexcept {
  const int rows = transform_.rows();
  const int cols = transform_.cols();
  const int length = transform_.channels();
  const std::size_t count = floats(free_).size();
  const auto divide = [&](float added) {
    for_each_mirrored(rows, cols, [&](std::ptrdiff_t here, std::ptrdiff_t mirror) {
      divide_line(parts(products_) + here * length, parts(products_) + mirror * length,
                  power_.view().data + here * length, added, length, parts(free_) + here * length);
    });
  };
  const auto constrain = [&](const Image<Complex>& from) {
    transform_.inverse_unscaled_into(from.view(), stack_.view());
    mask_all(rolled_.view().data, rows * cols, length, stack_.view().data);
    transform_.forward_into(stack_.view(), fresh_.view());
  };
  std::ranges::fill(floats(fresh_), 0.0f);
  std::ranges::fill(floats(multiplier_), 0.0f);
  right_side(parts(goal_), parts(spectrum_), parts(fresh_), parts(multiplier_), 0, rows * cols, length,
             parts(products_));
  divide(added_);
  constrain(free_);
  float weight = kFirstWeight * added_ / static_cast<float>(options_.regulariser);
  for (int i = 0; i < options_.iterations; ++i, weight *= kWeightGrowth) {
    right_side(parts(goal_), parts(spectrum_), parts(fresh_), parts(multiplier_), weight, rows * cols, length,
               parts(products_));
    divide(weight);
    add_scaled(parts(free_), parts(multiplier_), 1 / weight, count, parts(products_));
    constrain(products_);
    raise_multiplier(parts(free_), parts(fresh_), weight, count, parts(multiplier_));
  }
}

void MaskedFilter::respond_by_channel(const Image<Complex>& filter) noexcept {
  const int length = transform_.channels();
  for_each_mirrored(transform_.rows(), transform_.cols(), [&](std::ptrdiff_t here, std::ptrdiff_t mirror) {
    multiply_line(parts(filter) + here * length, parts(filter) + mirror * length,
                  parts(spectrum_) + here * length, parts(spectrum_) + mirror * length, length,
                  parts(products_) + here * length);
  });
  transform_.inverse_unscaled_into(products_.view(), stack_.view());
}

void MaskedFilter::weigh_channels(float rate) noexcept {
  respond_by_channel(fresh_);
  const int channels = transform_.channels();
  float highest[kMostChannels] = {};
  raise_to_highest(stack_.view().data, transform_.rows() * transform_.cols(), channels, highest);
  normalise({highest, static_cast<std::size_t>(channels)});
  for (int k = 0; k < channels; ++k) {
    learning_[k] += rate * (highest[k] - learning_[k]);
    answering_[k] += rate * (alone_[k] - answering_[k]);
    weights_[k] = learning_[k] * answering_[k];
  }
  normalise(weights_);
}

ImageView<const float> MaskedFilter::respond(ImageView<const float> stack) noexcept {
  transform_.forward_into(stack, spectrum_.view());
  respond_by_channel(filter_);
  const int cells = transform_.rows() * transform_.cols();
  const int channels = transform_.channels();
  weighted_sums(stack_.view().data, weights_.data(), cells, channels, response_.view().data);
  for (float& value : response_.elements()) value *= 1.0f / static_cast<float>(cells);
  // How alone each channel's peak stands: its highest value away from the common peak, over its highest of all.
  const Cell peak = highest_cell(response_.view());
  float beside[kMostChannels] = {};
  float highest[kMostChannels] = {};
  for (int r = 0; r < transform_.rows(); ++r) {
    const float* row = stack_.view().row(r);
    raise_to_highest(row, transform_.cols(), channels, highest);
    const bool near = std::abs(r - peak.row) <= kPeakRadius;
    const int left = near ? std::max(0, peak.col - kPeakRadius) : transform_.cols();
    const int right = near ? std::min(transform_.cols(), peak.col + kPeakRadius + 1) : transform_.cols();
    raise_to_highest(row, left, channels, beside);
    raise_to_highest(row + static_cast<std::ptrdiff_t>(right) * channels, transform_.cols() - right, channels,
                     beside);
  }
  for (int k = 0; k < channels; ++k)
    alone_[k] = highest[k] > 0 ? std::max(kLeastAlone, 1 - beside[k] / highest[k]) : kLeastAlone;
  return response_.view();
}

void MaskedFilter::keep() noexcept {
  std::ranges::copy(filter_.elements(), kept_filter_.elements().begin());
  std::ranges::copy(weights_, kept_weights_.begin());
}

void MaskedFilter::go_back() noexcept {
  std::ranges::copy(kept_filter_.elements(), filter_.elements().begin());
  std::ranges::copy(kept_weights_, weights_.begin());
}

Image<float> MaskedFilter::picture() const {
  Image<Complex> filter = copy_of(filter_.view());
  for (int r = 0; r < filter.rows(); ++r)
    for (int c = 0; c < filter.cols(); ++c)
      for (int k = 0; k < filter.channels(); ++k) filter(r, c, k) *= (r + c) % 2 == 0 ? 1.0f : -1.0f;
  Image<float> kernel = transform_.make_stack();
  transform_.inverse_unscaled_into(filter.view(), kernel.view());
  return strength_picture(kernel);
}

}  // namespace mnemon
