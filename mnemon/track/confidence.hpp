// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>
/// \file
/// Confidence and the parameters of what is done by it, which trackers of several families share: each tracker's struct
/// has members of these names, with defaults of its own.
namespace mnemon {

/// A logistic curve over the logarithm of a share of what is usual: 0.5 where the share is `half`, 0 where it is not
/// above 0.
[[nodiscard]] inline double confidence_of(double share, double half, double steepness) noexcept {
  return share > 0 ? 1 / (1 + std::pow(share / half, -steepness)) : 0;
}

/// Describes the members `confidence_half`, `confidence_steepness`, `present_from`, `learn_from`, `refind_from`.
template <class P>
void describe_confidence(auto& schema) {
  schema.field("confidence_half", &P::confidence_half, {0.05, 1.0}, "",
               "Share of the usual peak or contrast that means confidence 0.5; raising it makes losses be "
               "seen sooner.");
  schema.field("confidence_steepness", &P::confidence_steepness, {0.5, 30.0}, "",
               "How fast confidence falls with it; raising it makes it more of a yes or no.");
  schema.field("present_from", &P::present_from, {0.0, 1.0}, "confidence",
               "Below it the target is reported as not present, and is looked for.");
  schema.field("learn_from", &P::learn_from, {0.0, 1.0}, "confidence",
               "Below it nothing is learnt from a frame; raising it keeps occluders out.");
  schema.field(
      "refind_from", &P::refind_from, {0.0, 1.0}, "confidence",
      "Needed to take something for the lost target; raising it avoids look-alikes and comes back later.");
}

}  // namespace mnemon
