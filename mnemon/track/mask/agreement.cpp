// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/agreement.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr double kNoise = 0.1;  // squares of all channels about their means that are hardly worth comparing
constexpr double kLeastCompared = 0.25;  // of the shape, for what is in the picture to stand for all

// What is compared: the channels of a patch and of an appearance, cell by cell, and what each cell weighs.
struct Compared {
  std::array<const float*, kLikelihood> seen, known;
  const float* shape;
  const float* visible;  // where by_visible is 1; where it is 0, all of it is visible
  float by_visible;
  const float* taken;
  const float* in_picture;
  std::ptrdiff_t count;
};

Compared compared(const CellSamples& seen, const Appearance& appearance, const CellPlane* visible) noexcept {
  Compared all{{},
               {},
               appearance.shape().data,
               visible != nullptr ? visible->all().data() : appearance.shape().data,
               visible != nullptr ? 1.0f : 0.0f,
               seen.taken().all().data(),
               seen.in_picture().all().data(),
               static_cast<std::ptrdiff_t>(seen.taken().all().size())};
  for (int k = 0; k < kLikelihood; ++k) {
    all.seen[k] = seen.channel(k).all().data();
    all.known[k] = appearance.channel(k).data;
  }
  return all;
}

// What a cell weighs.
inline __attribute__((always_inline)) float weight_of(const Compared& all, std::ptrdiff_t i) noexcept {
  const float shape = all.shape[i];
  return (shape < kLeastShape ? 0.0f : shape) * (all.by_visible * all.visible[i] + (1 - all.by_visible));
}

// Sums of weights, of those in the picture, and of differences of light.
struct LightSums {
  Parts all{}, in_picture{}, lighter{};
};

MNEMON_CLONES void sum_light(const Compared& both, LightSums& sums) noexcept {
  const Compared all = both;
  LightSums local;
  for (std::ptrdiff_t i = 0; i < all.count; i += kCellLanes) {
    for (int k = 0; k < kCellLanes; ++k) {
      const float difference = all.seen[0][i + k] - all.known[0][i + k];
      const float weight = weight_of(all, i + k);
      local.all[k] += weight;
      local.in_picture[k] += weight * all.in_picture[i + k];
      local.lighter[k] += weight * all.taken[i + k] * std::clamp(difference, -2.0f, 2.0f);
    }
  }
  sums = local;
}

MNEMON_CLONES void sum_likeness(const Compared& both, float light, Parts& sums) noexcept {
  const Compared all = both;
  Parts local{};
  for (std::ptrdiff_t i = 0; i < all.count; i += kCellLanes) {
    for (int k = 0; k < kCellLanes; ++k) {
      const float d0 = all.seen[0][i + k] - all.known[0][i + k] - light;
      const float d1 = all.seen[1][i + k] - all.known[1][i + k];
      const float d2 = all.seen[2][i + k] - all.known[2][i + k];
      local[k] +=
          weight_of(all, i + k) * all.taken[i + k] / (1 + (d0 * d0 + d1 * d1 + d2 * d2) * (1 / kTolerated));
    }
  }
  sums = local;
}

// What there is to compare. What should be beyond the picture cannot be; beyond the patch nothing is alike.
double compared_weight(const LightSums& sums) noexcept {
  return std::max(sum_of(sums.in_picture), kLeastCompared * sum_of(sums.all));
}

double lighter_by(const LightSums& sums) noexcept {
  const double weight = compared_weight(sums);
  return weight > 0 ? sum_of(sums.lighter) / weight : 0;
}

// Sums over cells of a channel of both, and of squares and products, all about some value.
struct ChannelSums {
  Parts weight{}, seen{}, known{}, seen_squares{}, known_squares{}, products{};
};

MNEMON_CLONES void sum_channel(const Compared& both, int channel, float about, ChannelSums& sums) noexcept {
  const Compared all = both;
  ChannelSums local;
  const float* const seen = all.seen[channel];
  const float* const known = all.known[channel];
  for (std::ptrdiff_t i = 0; i < all.count; i += kCellLanes) {
    for (int k = 0; k < kCellLanes; ++k) {
      const float weight = weight_of(all, i + k) * all.taken[i + k];
      const float a = seen[i + k] - about;
      const float b = known[i + k] - about;
      local.weight[k] += weight;
      local.seen[k] += weight * a;
      local.known[k] += weight * b;
      local.seen_squares[k] += weight * (a * a);
      local.known_squares[k] += weight * (b * b);
      local.products[k] += weight * (a * b);
    }
  }
  sums = local;
}

}  // namespace

Agreement agreement(const CellSamples& seen, const Appearance& appearance,
                    const CellPlane* visible) noexcept {
  const Compared all = compared(seen, appearance, visible);
  LightSums sums;
  sum_light(all, sums);
  const double light = lighter_by(sums);
  Parts alike;
  sum_likeness(all, static_cast<float>(light), alike);
  const double weight = compared_weight(sums);
  return {light, weight > 0 ? sum_of(alike) / weight : 0};
}

double lighter_by(const CellSamples& seen, const Appearance& appearance) noexcept {
  LightSums sums;
  sum_light(compared(seen, appearance, nullptr), sums);
  return lighter_by(sums);
}

double correlation(const CellSamples& seen, const Appearance& appearance, const CellPlane* visible) noexcept {
  const Compared all = compared(seen, appearance, visible);
  double weight = 0;
  double together = 0;
  double one = 0;
  double other = 0;
  for (int k = 0; k < kLikelihood; ++k) {
    // About a value of the target's own, as the sums would else cancel to little but their rounding.
    const ImageView<const float> known = appearance.channel(k);
    ChannelSums sums;
    sum_channel(all, k, known(known.rows / 2, known.cols / 2), sums);
    weight = sum_of(sums.weight);
    if (weight <= 0) return 0;
    together += sum_of(sums.products) - sum_of(sums.seen) * sum_of(sums.known) / weight;
    one += sum_of(sums.seen_squares) - sum_of(sums.seen) * sum_of(sums.seen) / weight;
    other += sum_of(sums.known_squares) - sum_of(sums.known) * sum_of(sums.known) / weight;
  }
  // What both have of noise is alike: of plain targets nothing else is left.
  const double noise = kNoise * weight;
  return (together + noise) / std::sqrt((one + noise) * (other + noise));
}

}  // namespace mnemon
