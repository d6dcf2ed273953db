// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_mask.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/track/corr/target_colours.hpp>

namespace mnemon {
namespace {

// How likely the middle of the box is the target before colour is looked at, and the middle of its edges.
constexpr float kPriorMiddle = 0.8f;
constexpr float kPriorEdge = 0.5f;
constexpr float kLeastCovered = 0.2f;  // of the box by its mask

float prior_at(PlaceInTarget place) noexcept {
  const double squared = place.squared();
  if (place.outermost() > 1) return 0;
  return kPriorMiddle - (kPriorMiddle - kPriorEdge) * static_cast<float>(std::min(1.5, squared));
}

}  // namespace

void target_mask_into(ImageView<const float> likelihood, Point share, ImageView<float> mask) noexcept {
  const int rows = mask.rows;
  const int cols = mask.cols;
  double covered = 0;
  double boxed = 0;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      float sum = 0;
      float weights = 0;
      for (int i = std::max(0, r - 1); i <= std::min(rows - 1, r + 1); ++i)
        for (int k = std::max(0, c - 1); k <= std::min(cols - 1, c + 1); ++k) {
          const float weight = i == r && k == c ? 2.0f : 1.0f;
          sum += weight * likelihood(i, k);
          weights += weight;
        }
      const float colour = sum / weights;
      const float prior = prior_at(place_in_target(r, c, rows, cols, share));
      const float target = colour * prior;
      const float posterior = target > 0 ? target / (target + (1 - colour) * (1 - prior)) : 0;
      mask(r, c) = std::clamp(2 * posterior - 0.4f, 0.0f, 1.0f);
      boxed += prior > 0 ? 1 : 0;
      covered += mask(r, c);
    }
  if (covered < kLeastCovered * boxed)
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c)
        mask(r, c) = prior_at(place_in_target(r, c, rows, cols, share)) > 0 ? 1.0f : 0.0f;
}

}  // namespace mnemon
