// SPDX-License-Identifier: MIT
#include <mnemon/vision/soft_colours.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

using Shares = std::array<float, kSoftColours>;
constexpr int kHues = 6;
constexpr int kCell = 4;
// The colourfulness that half of a colour's share goes to its hues at: above the noise of grey pixels.
constexpr float kHalfColourful = 0.12f;

// Where on the colour circle, from 0 (red) over 2 (green) and 4 (blue) to 6.
float hue_of(const std::array<float, 3>& rgb, float highest, float chroma) noexcept {
  const auto [r, g, b] = rgb;
  if (highest == r) return g >= b ? (g - b) / chroma : 6 + (g - b) / chroma;
  if (highest == g) return 2 + (b - r) / chroma;
  return 4 + (r - g) / chroma;
}

Shares shares_of(const std::array<float, 3>& rgb) noexcept {
  const auto [low, high] = std::ranges::minmax(rgb);
  const float chroma = high - low;
  const float colourful = chroma * chroma / (chroma * chroma + kHalfColourful * kHalfColourful);
  const float light = 0.299f * rgb[0] + 0.587f * rgb[1] + 0.114f * rgb[2];
  Shares shares{};
  shares[0] = (1 - colourful) * (1 - light);
  shares[1] = (1 - colourful) * light;
  if (chroma > 0) {
    const float hue = hue_of(rgb, high, chroma);
    const int before = static_cast<int>(hue) % kHues;
    const float on = hue - std::floor(hue);
    shares[2 + before] += colourful * (1 - on);
    shares[2 + (before + 1) % kHues] += colourful * on;
  }
  return shares;
}

const std::vector<Shares>& table() {
  static const std::vector<Shares> shares = [] {
    std::vector<Shares> made(kColours);
    for (int i = 0; i < kColours; ++i) made[i] = shares_of(colour_of(static_cast<ColourIndex>(i)));
    return made;
  }();
  return shares;
}

MNEMON_TABLE_CLONES void add_row(const ColourIndex* __restrict indices, int cells,
                                 const float* __restrict shares, float* __restrict out,
                                 std::ptrdiff_t stride) noexcept {
  for (int c = 0; c < cells; ++c) {
    float sum[kSoftColours];
    for (int k = 0; k < kSoftColours; ++k) sum[k] = out[c * stride + k];
    for (int i = 0; i < kCell; ++i) {
      const float* share = shares + static_cast<std::ptrdiff_t>(indices[c * kCell + i]) * kSoftColours;
      for (int k = 0; k < kSoftColours; ++k) sum[k] += share[k] * (1.0f / (kCell * kCell));
    }
    for (int k = 0; k < kSoftColours; ++k) out[c * stride + k] = sum[k];
  }
}

}  // namespace

void soft_colours_into(ImageView<const ColourIndex> indices, ImageView<float> cells, int first) noexcept {
  MNEMON_ASSERT(indices.rows == kCell * cells.rows && indices.cols == kCell * cells.cols);
  const float* shares = table()[0].data();
  for (int r = 0; r < cells.rows; ++r) {
    float* out = cells.row(r) + first;
    for (int c = 0; c < cells.cols; ++c)
      std::fill_n(out + static_cast<std::ptrdiff_t>(c) * cells.channels, kSoftColours, 0.0f);
    for (int i = 0; i < kCell; ++i)
      add_row(indices.row(kCell * r + i), cells.cols, shares, out, cells.channels);
  }
}

}  // namespace mnemon
