// SPDX-License-Identifier: MIT
#include <mnemon/vision/colour_space.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>

namespace mnemon {
namespace {

constexpr int kHues = 24;
constexpr int kCoarseHues = 18;
constexpr int kSaturations = 4;
constexpr int kLevels = 8;

struct HueSaturationValue {
  float hue = 0;  // in [0, 1)
  float saturation = 0;
  float value = 0;
};

HueSaturationValue hsv_of(const std::array<float, 3>& rgb) noexcept {
  const auto [low, high] = std::ranges::minmax(rgb);
  return {hue_sixths(rgb) / 6, high > 0 ? (high - low) / high : 0, high};
}

int level_of(float value, int levels) noexcept {
  return std::clamp(static_cast<int>(value * static_cast<float>(levels)), 0, levels - 1);
}

// Red against green, in [0, 1] with grey in the middle, its small values spread out: most things are dull.
float opponent(float difference) noexcept {
  return 0.5f + 0.5f * std::copysign(std::sqrt(std::abs(difference)), difference);
}

int lightness_chroma_bin(const std::array<float, 3>& rgb) noexcept {
  const auto [r, g, b] = rgb;
  const int light = level_of(0.299f * r + 0.587f * g + 0.114f * b, kLevels);
  const int red = level_of(opponent(r - g), kLevels);
  const int yellow = level_of(opponent(0.5f * (r + g) - b), kLevels);
  return (light * kLevels + red) * kLevels + yellow;
}

// Of each colour its bin by each of the parts, if it is in any, and what that goes by.
struct SortedColours {
  std::array<std::array<std::int16_t, kColours>, 3> bins;  // by ColourParts
  std::array<float, kColours> saturation;
  std::array<float, kColours> value;

  SortedColours() noexcept {
    for (int i = 0; i < kColours; ++i) {
      const std::array<float, 3> rgb = colour_of(static_cast<ColourIndex>(i));
      const HueSaturationValue hsv = hsv_of(rgb);
      saturation[i] = hsv.saturation;
      value[i] = hsv.value;
      const auto put = [&](ColourParts parts, int bin) {
        bins[static_cast<std::size_t>(parts)][i] = static_cast<std::int16_t>(bin);
      };
      put(ColourParts::hue, level_of(hsv.hue, kHues));
      put(ColourParts::hue_saturation,
          level_of(hsv.hue, kCoarseHues) * kSaturations + level_of(hsv.saturation, kSaturations));
      put(ColourParts::lightness_chroma, lightness_chroma_bin(rgb));
    }
  }
};

// Sorted once: a target's space is chosen among many.
const SortedColours& sorted_colours() noexcept {
  static const SortedColours sorted;
  return sorted;
}

}  // namespace

ColourSpace::ColourSpace(ColourParts parts, float least_saturation, float least_value) : parts_(parts) {
  const bool whole = parts == ColourParts::lightness_chroma;
  bins_ = parts == ColourParts::hue ? kHues : whole ? kMostBins : kCoarseHues * kSaturations;
  const SortedColours& sorted = sorted_colours();
  const auto& bins = sorted.bins[static_cast<std::size_t>(parts)];
  bin_of_.assign(bins.begin(), bins.end());
  if (whole) return;
  for (int i = 0; i < kColours; ++i)
    if (sorted.saturation[i] < least_saturation || sorted.value[i] < least_value) bin_of_[i] = kNone;
}

double separation(const ColourSpace& space, std::span<const float> target, std::span<const float> around) {
  std::array<double, ColourSpace::kMostBins> in_target{};
  std::array<double, ColourSpace::kMostBins> in_around{};
  for (int i = 0; i < kColours; ++i) {
    const int bin = space.bin_of(static_cast<ColourIndex>(i));
    if (bin == ColourSpace::kNone) continue;
    in_target[bin] += target[i];
    in_around[bin] += around[i];
  }
  const double target_sum = std::accumulate(target.begin(), target.end(), 0.0);
  const double around_sum = std::max(1e-9, std::accumulate(around.begin(), around.end(), 0.0));
  double apart = 0;
  for (int bin = 0; bin < space.bins(); ++bin) {
    const double t = in_target[bin] / target_sum;
    const double a = in_around[bin] / around_sum;
    if (t + a > 0) apart += (t - a) * t / (t + a);
  }
  return apart;
}

std::optional<ColourParts> colour_parts(std::string_view word) noexcept {
  const auto at = std::ranges::find(kColourParts, word);
  return at == kColourParts.end() ? std::nullopt
                                  : std::optional(static_cast<ColourParts>(at - kColourParts.begin()));
}

ColourSpace choose_space(std::span<const float> target, std::span<const float> around,
                         std::optional<ColourParts> parts) {
  // What a space is favoured by for standing changes of light.
  constexpr double kHueBonus = 0.1;
  constexpr double kHueSaturationBonus = 0.05;
  ColourSpace best;
  const bool takes_whole = !parts || *parts == ColourParts::lightness_chroma;
  double best_score =
      takes_whole ? separation(best, target, around) : -std::numeric_limits<double>::infinity();
  for (const float saturation : {0.1f, 0.2f, 0.3f, 0.45f})
    for (const float value : {0.1f, 0.2f, 0.35f})
      for (const auto& [tried, bonus] :
           {std::pair{ColourParts::hue, kHueBonus}, {ColourParts::hue_saturation, kHueSaturationBonus}}) {
        if (parts && tried != *parts) continue;
        ColourSpace space(tried, saturation, value);
        const double score = separation(space, target, around) + bonus;
        if (!(score > best_score)) continue;
        best_score = score;
        best = std::move(space);
      }
  return best;
}

}  // namespace mnemon
