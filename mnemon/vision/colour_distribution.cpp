// SPDX-License-Identifier: MIT
#include <mnemon/vision/colour_distribution.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

namespace mnemon {
namespace {

constexpr float kUnseen =
    0.02f;  // of the mean bin: what keeps colours that nobody has from weighing anything

void blend(std::vector<float>& counts, float seen, float rate, std::vector<float>& known) noexcept {
  if (!(seen > 0)) return;
  for (std::size_t i = 0; i < known.size(); ++i) known[i] += rate * (counts[i] / seen - known[i]);
}

}  // namespace

ColourDistribution::ColourDistribution(ColourSpace space)
    : space_(std::move(space)),
      target_(space_.bins()),
      around_(space_.bins()),
      target_count_(space_.bins()),
      around_count_(space_.bins()),
      bin_weights_(space_.bins()),
      weights_(kColours) {}

double ColourDistribution::likeness() const noexcept {
  if (!(target_seen_ > 0)) return 0;
  double sum = 0;
  double known = 0;
  for (std::size_t i = 0; i < target_.size(); ++i) {
    sum += std::sqrt(static_cast<double>(target_[i]) * target_count_[i] / target_seen_);
    known += target_[i];
  }
  return known > 0 ? std::min(1.0, sum / known) : 0;
}

void ColourDistribution::learn(double target_rate, double around_rate) noexcept {
  blend(target_count_, target_seen_, static_cast<float>(target_rate), target_);
  blend(around_count_, around_seen_, static_cast<float>(around_rate), around_);
  forget_counts();
  const float unseen = kUnseen / static_cast<float>(space_.bins());
  for (int bin = 0; bin < space_.bins(); ++bin) {
    const float share = target_[bin] / (target_[bin] + around_[bin] + unseen);
    bin_weights_[bin] = std::max(0.0f, 2 * share - 1);
  }
  for (int i = 0; i < kColours; ++i) {
    const int bin = space_.bin_of(static_cast<ColourIndex>(i));
    weights_[i] = bin == ColourSpace::kNone ? 0.0f : bin_weights_[bin];
  }
}

void ColourDistribution::forget_counts() noexcept {
  std::ranges::fill(target_count_, 0.0f);
  std::ranges::fill(around_count_, 0.0f);
  target_seen_ = 0;
  around_seen_ = 0;
}

}  // namespace mnemon
