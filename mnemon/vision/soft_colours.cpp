// SPDX-License-Identifier: MIT
#include <mnemon/vision/soft_colours.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/clones.hpp>
#include <mnemon/base/lanes.hpp>
#include <mnemon/vision/gradient_histogram.hpp>

namespace mnemon {
namespace {

using Shares = std::array<float, kSoftColours>;
constexpr int kHues = 6;
constexpr int kCell = GradientHistogram::kCell;
// The colourfulness that half of a colour's share goes to its hues at: above the noise of grey pixels.
constexpr float kHalfColourful = 0.12f;

Shares shares_of(const std::array<float, 3>& rgb) noexcept {
  const auto [low, high] = std::ranges::minmax(rgb);
  const float chroma = high - low;
  const float colourful = chroma * chroma / (chroma * chroma + kHalfColourful * kHalfColourful);
  const float light = 0.299f * rgb[0] + 0.587f * rgb[1] + 0.114f * rgb[2];
  Shares shares{};
  shares[0] = (1 - colourful) * (1 - light);
  shares[1] = (1 - colourful) * light;
  if (chroma > 0) {
    const float hue = hue_sixths(rgb);
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

static_assert(sizeof(Eight) == kSoftColours * sizeof(float));

// The means over a row of cells, whose rows of samples are `stride` apart. A sample's shares are one vector.
MNEMON_TABLE_CLONES void mean_row(const ColourIndex* __restrict indices, std::ptrdiff_t stride, int cells,
                                  const float* __restrict shares, float* __restrict out,
                                  std::ptrdiff_t step) noexcept {
  for (int c = 0; c < cells; ++c) {
    Eight sum{};
    for (int r = 0; r < kCell; ++r)
      for (int i = 0; i < kCell; ++i) {
        sum += load(shares + static_cast<std::ptrdiff_t>(indices[r * stride + c * kCell + i]) * kSoftColours);
      }
    sum *= 1.0f / (kCell * kCell);
    store(sum, out + c * step);
  }
}

}  // namespace

void soft_colours_into(ImageView<const ColourIndex> indices, ImageView<float> cells, int first) noexcept {
  MNEMON_ASSERT(indices.rows == kCell * cells.rows && indices.cols == kCell * cells.cols);
  const float* shares = table()[0].data();
  for (int r = 0; r < cells.rows; ++r)
    mean_row(indices.row(kCell * r), indices.stride, cells.cols, shares, cells.row(r) + first,
             cells.channels);
}

}  // namespace mnemon
