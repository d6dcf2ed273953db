// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_mask.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

constexpr int kCell = 4;
constexpr float kPriorMiddle =
    0.8f;  // how likely the middle of the box is the target, before colour is looked at
constexpr float kPriorEdge = 0.5f;     // and the middle of its edges
constexpr double kAroundFrom = 1.2;    // surroundings begin here, in sizes of the target
constexpr float kLeastCovered = 0.2f;  // of the box by its mask

// Where a cell or sample lies in the target's box: 0 in its middle, 1 on its edge, by the longer of the two ways.
struct Place {
  double across = 0;
  double down = 0;
  [[nodiscard]] double outermost() const { return std::max(std::abs(across), std::abs(down)); }
};

Place place_of(int r, int c, int rows, int cols, Point share) noexcept {
  return {(2 * (c + 0.5) / cols - 1) / share.x, (2 * (r + 0.5) / rows - 1) / share.y};
}

float prior_at(Place place) noexcept {
  const double squared = place.across * place.across + place.down * place.down;
  if (place.outermost() > 1) return 0;
  return kPriorMiddle - (kPriorMiddle - kPriorEdge) * static_cast<float>(std::min(1.5, squared));
}

}  // namespace

void TargetMask::learn(ImageView<const ColourIndex> colours, Point share, double rate) noexcept {
  for (int r = 0; r < colours.rows; ++r)
    for (int c = 0; c < colours.cols; ++c) {
      const Place place = place_of(r, c, colours.rows, colours.cols, share);
      const double squared = place.across * place.across + place.down * place.down;
      if (squared < 1)
        model_.count_target(colours(r, c), static_cast<float>(1 - squared));
      else if (place.outermost() > kAroundFrom)
        model_.count_surroundings(colours(r, c));
    }
  model_.learn(rate);
}

ImageView<const float> TargetMask::find(ImageView<const ColourIndex> colours, Point share) noexcept {
  const int rows = mask_.rows();
  const int cols = mask_.cols();
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      float sum = 0;
      for (int i = 0; i < kCell; ++i)
        for (int k = 0; k < kCell; ++k) sum += model_.likelihood(colours(kCell * r + i, kCell * c + k));
      likelihood_(r, c) = sum / (kCell * kCell);
    }
  double covered = 0;
  double boxed = 0;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      float sum = 0;
      float weights = 0;
      for (int i = std::max(0, r - 1); i <= std::min(rows - 1, r + 1); ++i)
        for (int k = std::max(0, c - 1); k <= std::min(cols - 1, c + 1); ++k) {
          const float weight = i == r && k == c ? 2.0f : 1.0f;
          sum += weight * likelihood_(i, k);
          weights += weight;
        }
      const float colour = sum / weights;
      const float prior = prior_at(place_of(r, c, rows, cols, share));
      const float target = colour * prior;
      const float posterior = target > 0 ? target / (target + (1 - colour) * (1 - prior)) : 0;
      mask_(r, c) = std::clamp(2 * posterior - 0.4f, 0.0f, 1.0f);
      boxed += prior > 0 ? 1 : 0;
      covered += mask_(r, c);
    }
  if (covered < kLeastCovered * boxed)
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c)
        mask_(r, c) = prior_at(place_of(r, c, rows, cols, share)) > 0 ? 1.0f : 0.0f;
  return mask_.view();
}

}  // namespace mnemon
