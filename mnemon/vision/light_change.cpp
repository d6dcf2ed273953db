// SPDX-License-Identifier: MIT
#include <mnemon/vision/light_change.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

constexpr int kAcross = 24;  // places
constexpr int kDown = 16;
constexpr int kAbout = 1;   // samples about a place, each way
constexpr int kApart = 60;  // of them on a picture's height
// Means that tell nothing, as they may be cut off at the end of the scale.
constexpr float kDark = 10;
constexpr float kBright = 245;
constexpr std::size_t kLeastPlaces = 24;
// Logarithm of a change a frame that is left to learning, as is one less than the median deviation from it: where the
// camera moves, places change by themselves.
constexpr float kSlow = 0.018f;
constexpr float kMostGain = 4;

}  // namespace

LightChange::LightChange(ImageView<const Byte> rgb)
    : before_(static_cast<std::size_t>(3) * kAcross * kDown), now_(before_.size()) {
  ratios_.reserve(before_.size() / 3);
  look(rgb, before_);
  set_levels();
}

void LightChange::look(ImageView<const Byte> rgb, std::vector<float>& seen) const noexcept {
  const int step = std::max(1, rgb.rows / kApart);
  constexpr int kCount = (2 * kAbout + 1) * (2 * kAbout + 1);
  float* to = seen.data();
  for (int i = 0; i < kDown; ++i)
    for (int j = 0; j < kAcross; ++j, to += 3) {
      const int y = (2 * i + 1) * rgb.rows / (2 * kDown);
      const int x = (2 * j + 1) * rgb.cols / (2 * kAcross);
      std::array<int, 3> sums{};
      for (int r = -kAbout; r <= kAbout; ++r)
        for (int c = -kAbout; c <= kAbout; ++c) {
          const Byte* const pixel =
              &rgb(std::clamp(y + r * step, 0, rgb.rows - 1), std::clamp(x + c * step, 0, rgb.cols - 1));
          for (int k = 0; k < 3; ++k) sums[k] += pixel[k];
        }
      for (int k = 0; k < 3; ++k) to[k] = static_cast<float>(sums[k]) / kCount;
    }
}

// The middle one of some numbers, which change places.
float LightChange::median_of(std::vector<float>& numbers) noexcept {
  const auto middle = numbers.begin() + static_cast<std::ptrdiff_t>(numbers.size() / 2);
  std::ranges::nth_element(numbers, middle);
  return *middle;
}

void LightChange::follow(ImageView<const Byte> rgb) noexcept {
  look(rgb, now_);
  std::array<float, 3> changes{};
  float changed = 0;
  float least = 0;
  for (int k = 0; k < 3; ++k) {
    ratios_.clear();
    for (std::size_t i = k; i < now_.size(); i += 3)
      if (std::min(before_[i], now_[i]) > kDark && std::max(before_[i], now_[i]) < kBright)
        ratios_.push_back(std::log(now_[i] / before_[i]));
    if (ratios_.size() < kLeastPlaces) continue;
    changes[k] = median_of(ratios_);
    for (float& ratio : ratios_) ratio = std::abs(ratio - changes[k]);
    changed += std::abs(changes[k]);
    least += std::max(kSlow, median_of(ratios_));
  }
  std::swap(before_, now_);
  if (changed <= least) return;
  for (int k = 0; k < 3; ++k)
    gains_[k] = std::clamp(gains_[k] * std::exp(changes[k]), 1 / kMostGain, kMostGain);
  set_levels();
}

void LightChange::learnt(double rate) noexcept {
  if (is_none()) return;
  for (float& gain : gains_) {
    gain = std::pow(gain, static_cast<float>(1 - rate));
    if (std::abs(std::log(gain)) < 0.1f * kSlow) gain = 1;
  }
  set_levels();
}

void LightChange::set_levels() noexcept {
  for (int k = 0; k < 3; ++k)
    for (int i = 0; i < 256; ++i)
      levels_[k][i] = static_cast<Byte>(std::min(255.0f, static_cast<float>(i) / gains_[k] + 0.5f));
}

void LightChange::take_back(Byte* rgb, int pixels) const noexcept {
  for (int i = 0; i < pixels; ++i, rgb += 3)
    for (int k = 0; k < 3; ++k) rgb[k] = levels_[k][rgb[k]];
}

void LightChange::bring_in(const float* table, float* changed) const noexcept {
  constexpr int kRange = 256 / kColourLevels;
  std::array<std::array<int, kColourLevels>, 3> level{};  // without the change
  for (int k = 0; k < 3; ++k)
    for (int i = 0; i < kColourLevels; ++i) level[k][i] = levels_[k][kRange * i + kRange / 2] / kRange;
  for (const int red : level[0])
    for (const int green : level[1])
      for (const int blue : level[2])
        *changed++ = table[(red * kColourLevels + green) * kColourLevels + blue];
}

}  // namespace mnemon
