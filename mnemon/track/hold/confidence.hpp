// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>
namespace mnemon {

/// A logistic curve over the logarithm of a share of what is usual: 0.5 where the share is `half`, 0 where it is not
/// above 0.
[[nodiscard]] inline double confidence_of(double share, double half, double steepness) noexcept {
  return share > 0 ? 1 / (1 + std::pow(share / half, -steepness)) : 0;
}

}  // namespace mnemon
