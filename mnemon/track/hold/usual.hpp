// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

namespace mnemon {

/// What a measure usually is while the target is surely held: a running mean, at first over all that was taken, then
/// mostly over the last 20 times.
class Usual {
 public:
  static constexpr double kRate = 0.05;  ///< Weight of the newest value, once some are known.

  Usual() = default;
  /// \param value  What is taken for usual at first.
  /// \param taken  How many measures that stands for: the next one counts 1 in `taken` + 1, but at least `kRate`.
  explicit Usual(double value, int taken = 0) noexcept : value_(value), taken_(taken) {}

  /// What is usual.
  [[nodiscard]] double value() const noexcept { return value_; }

  /// Takes in a measure of a frame that surely shows the target.
  void take(double measure) noexcept {
    ++taken_;
    value_ += std::max(kRate, 1.0 / taken_) * (measure - value_);
  }

 private:
  double value_ = 0;
  int taken_ = 0;
};

}  // namespace mnemon
