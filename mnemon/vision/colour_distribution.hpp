// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/vision/colour_space.hpp>

namespace mnemon {

/// The colours of a target and of what is around it, as histograms over the bins of a space, and what each colour
/// weighs in a back-projection: the more, the rarer it is around the target. Count, then `learn`. Allocates nothing
/// once made.
/// Source: Comaniciu, Ramesh and Meer, TPAMI 2003, section 4.3; ours weighs by the target's share of a bin.
class ColourDistribution {
 public:
  ColourDistribution() : ColourDistribution(ColourSpace()) {}
  /// Knows no colours yet; they are told apart in this space.
  explicit ColourDistribution(ColourSpace space);

  /// In which colours are told apart.
  [[nodiscard]] const ColourSpace& space() const noexcept { return space_; }

  /// Counts a colour of the target, which `learn` takes in.
  void count_target(ColourIndex colour, float weight) noexcept {
    target_seen_ += weight;
    const int bin = space_.bin_of(colour);
    if (bin != ColourSpace::kNone) target_count_[bin] += weight;
  }
  /// Counts a colour of the surroundings, which `learn` takes in.
  void count_around(ColourIndex colour, float weight) noexcept {
    around_seen_ += weight;
    const int bin = space_.bin_of(colour);
    if (bin != ColourSpace::kNone) around_count_[bin] += weight;
  }

  /// How alike what was counted as the target is to what is known of it: the Bhattacharyya coefficient, in [0, 1].
  [[nodiscard]] double likeness() const noexcept;

  /// Moves what is known towards what was counted since the last call, at rates from 0 to 1, and forgets the counts.
  void learn(double target_rate, double around_rate) noexcept;

  /// Forgets the counts.
  void forget_counts() noexcept;

  /// What each of the 4096 colours weighs, in [0, 1].
  [[nodiscard]] const float* weights() const noexcept { return weights_.data(); }

 private:
  ColourSpace space_;
  std::vector<float> target_;
  std::vector<float> around_;
  std::vector<float> target_count_;
  std::vector<float> around_count_;
  float target_seen_ = 0;  // all that was counted, in bins or not
  float around_seen_ = 0;
  std::vector<float> bin_weights_;
  std::vector<float> weights_;
};

}  // namespace mnemon
