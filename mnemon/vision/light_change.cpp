// SPDX-License-Identifier: MIT
#include <mnemon/vision/light_change.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

constexpr int kAcross = 24;  // places
constexpr int kDown = 16;
constexpr int kApart = 60;  // samples of a place, on a picture's height
// Means that tell nothing, as they may be cut off at the end of the scale.
constexpr float kDark = 10;
constexpr float kBright = 245;
constexpr std::size_t kLeastPlaces = 24;
// Logarithm of a change a frame that is left to learning, as is one less than the median deviation from it: where the
// camera moves, places change by themselves.
constexpr float kSlow = 0.018f;
// And what is told of more frames at a time: that much more of it, and only while places changed alike all along.
constexpr float kMoreSlow = 1.5f;
constexpr float kAlike = 1.3f;  // of kSlow
constexpr float kMostGain = 4;

}  // namespace

LightChange::LightChange(ImageView<const Byte> rgb)
    : before_(static_cast<std::size_t>(3) * kAcross * kDown), now_(before_.size()) {
  ratios_.reserve(before_.size() / 3);
  look(rgb, before_);
  reference_ = before_;
  set_levels();
}

// Nine samples a place.
void LightChange::look(ImageView<const Byte> rgb, std::vector<float>& seen) const noexcept {
  const int step = std::max(1, rgb.rows / kApart);
  const auto three = [step](int middle, int pixels) {
    return std::array{std::max(0, middle - step), middle, std::min(pixels - 1, middle + step)};
  };
  float* to = seen.data();
  for (int i = 0; i < kDown; ++i)
    for (int j = 0; j < kAcross; ++j, to += 3) {
      std::array<int, 3> sums{};
      for (const int r : three((2 * i + 1) * rgb.rows / (2 * kDown), rgb.rows))
        for (const int c : three((2 * j + 1) * rgb.cols / (2 * kAcross), rgb.cols)) {
          const Byte* const pixel = rgb.row(r) + 3 * static_cast<std::ptrdiff_t>(c);
          for (int k = 0; k < 3; ++k) sums[k] += pixel[k];
        }
      for (int k = 0; k < 3; ++k) to[k] = static_cast<float>(sums[k]) / 9;
    }
}

// Whether means over all places tell of a change at all, which is quicker told than their medians.
bool LightChange::may_have_changed(const std::vector<float>& from) const noexcept {
  std::array<float, 3> before{};
  std::array<float, 3> now{};
  for (std::size_t i = 0; i < now_.size(); i += 3)
    for (int k = 0; k < 3; ++k) {
      before[k] += from[i + k];
      now[k] += now_[i + k];
    }
  bool may = false;
  for (int k = 0; k < 3; ++k) may = may || std::abs(now[k] - before[k]) > 0.3f * kSlow * before[k];
  return may;
}

// The middle one of some numbers, which change places.
float LightChange::median_of(std::vector<float>& numbers) noexcept {
  const auto middle = numbers.begin() + static_cast<std::ptrdiff_t>(numbers.size() / 2);
  std::ranges::nth_element(numbers, middle);
  return *middle;
}

// What became of the light since places had those means, with the gains that there were then. Sets the gains where it
// changed.
LightChange::Finding LightChange::tell(const std::vector<float>& from, const std::array<float, 3>& gains,
                                       float more) noexcept {
  if (!may_have_changed(from)) return Finding::same;
  std::array<float, 3> told = gains_;  // and so left where too few places tell
  float changed = 0;
  float least = 0;
  for (int k = 0; k < 3; ++k) {
    ratios_.clear();
    for (std::size_t i = k; i < now_.size(); i += 3)
      if (std::min(from[i], now_[i]) > kDark && std::max(from[i], now_[i]) < kBright)
        ratios_.push_back(std::log(now_[i] / from[i]));
    if (ratios_.size() < kLeastPlaces) continue;
    const float change = median_of(ratios_);
    for (float& ratio : ratios_) ratio = std::abs(ratio - change);
    changed += std::abs(change);
    least += std::max(kSlow, median_of(ratios_));
    told[k] = std::clamp(gains[k] * std::exp(change), 1 / kMostGain, kMostGain);
  }
  if (changed <= more * least) return least > 3 * kAlike * kSlow ? Finding::unclear : Finding::same;
  gains_ = told;
  set_levels();
  return Finding::changed;
}

void LightChange::follow(ImageView<const Byte> rgb) noexcept {
  look(rgb, now_);
  if (tell(before_, gains_, 1) != Finding::same ||
      tell(reference_, reference_gains_, kMoreSlow) == Finding::unclear) {
    std::ranges::copy(now_, reference_.begin());
    reference_gains_ = gains_;
  }
  std::swap(before_, now_);
}

void LightChange::learnt(double rate) noexcept {
  if (is_none()) return;
  for (float& gain : reference_gains_) gain = std::pow(gain, static_cast<float>(1 - rate));
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
