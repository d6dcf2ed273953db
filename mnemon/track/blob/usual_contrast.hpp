// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/track/hold/usual.hpp>

namespace mnemon {

/// How much a target usually stands out: the mean weight in its box, less that around it, and the latter. Both follow
/// slowly.
class UsualContrast {
 public:
  /// Nothing is known: weights of 0.5 are neutral.
  UsualContrast() = default;
  /// \param contrast  Of the marked target.
  /// \param mean      The mean weight in its box.
  UsualContrast(double contrast, double mean) noexcept
      : seed_(std::max(kLeast, contrast)), value_(seed_), around_(mean - contrast) {}

  /// Above 0, once something is known.
  [[nodiscard]] double value() const noexcept { return value_; }

  /// The weight midway between those of the target and those around it.
  [[nodiscard]] double neutral() const noexcept { return around_ + 0.5 * value_; }

  /// Takes in a frame that surely shows the target. It is expected to stand out at least half as much as when it was marked.
  void take(double contrast, double mean) noexcept {
    value_ += Usual::kRate * (std::max(kLeastShare * seed_, contrast) - value_);
    around_ += Usual::kRate * (mean - contrast - around_);
  }

 private:
  static constexpr double kLeast = 0.05;      // so that shares of it stay finite
  static constexpr double kLeastShare = 0.5;  // of the seed's

  double seed_ = 0;
  double value_ = 0;
  double around_ = 0.5;
};

}  // namespace mnemon
