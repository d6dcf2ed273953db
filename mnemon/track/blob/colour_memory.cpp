// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/colour_memory.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {

void ColourMemory::start(const ColourSpace& space, std::span<const float> counts) {
  space_ = space;
  now_.assign(static_cast<std::size_t>(space.bins()), 0);
  seen_ = 0;
  for (int i = 0; i < kColours; ++i) {
    const int bin = space.bin_of(static_cast<ColourIndex>(i));
    if (bin == ColourSpace::kNone) continue;
    now_[bin] += counts[i];
    seen_ += counts[i];
  }
  seed_ = now_;
  if (seen_ > 0)
    for (float& share : seed_) share /= seen_;
  lately_ = seed_;
  forget();
}

double ColourMemory::likeness() const noexcept {
  if (!(seen_ > 0)) return 0;
  double with_seed = 0;
  double with_lately = 0;
  for (std::size_t i = 0; i < now_.size(); ++i) {
    if (now_[i] == 0) continue;
    with_seed += std::sqrt(seed_[i] * now_[i]);
    with_lately += std::sqrt(lately_[i] * now_[i]);
  }
  return std::min(1.0, std::sqrt(with_seed * with_lately) / std::sqrt(static_cast<double>(seen_)));
}

void ColourMemory::learn(float rate) noexcept {
  if (!(seen_ > 0)) return;
  for (std::size_t i = 0; i < now_.size(); ++i) lately_[i] += rate * (now_[i] / seen_ - lately_[i]);
}

void ColourMemory::forget() noexcept {
  std::ranges::fill(now_, 0.0f);
  seen_ = 0;
}

}  // namespace mnemon
