// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/image/image.hpp>
#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// How likely a colour is that of the target rather than of its surroundings: two histograms over 4096 colours,
/// smoothed, and their ratio. Count colours of both kinds, then `learn`. All memory is taken when it is made.
/// Source: Comaniciu, Ramesh and Meer, TPAMI 2003, section 4.3, weigh colours against the surroundings so.
class ColourModel {
 public:
  ColourModel();

  /// Counts a colour of the target, which `learn` takes in.
  void count_target(ColourIndex colour, float weight = 1) noexcept { target_count_[colour] += weight; }
  /// Counts a colour of the surroundings, which `learn` takes in.
  void count_surroundings(ColourIndex colour, float weight = 1) noexcept { around_count_[colour] += weight; }

  /// Counts a run of pixels, three bytes each, given 1 for each of the target and 0 for each of its surroundings.
  void count(const Byte* rgb, const Byte* is_target, int pixels) noexcept;

  /// Moves the model towards what was counted since the last call, at a rate from 0 to 1, and forgets the counts. Of
  /// a kind that was not counted the model stays as it is.
  void learn(double rate) noexcept;

  /// The probability that a pixel of that colour is the target's, in [0, 1], if both were as common; 0.5 where the
  /// colour was never seen.
  [[nodiscard]] float likelihood(ColourIndex colour) const noexcept { return likelihood_[colour]; }
  /// The likelihood of each colour that it is the target's, in [0, 1]: kColours values.
  [[nodiscard]] const float* table() const noexcept { return likelihood_.data(); }

 private:
  std::vector<float> target_count_;  // in two tables that are added up, as are those of the surroundings
  std::vector<float> around_count_;
  std::vector<float> target_;
  std::vector<float> around_;
  std::vector<float> work_;
  std::vector<float> likelihood_;
};

}  // namespace mnemon
