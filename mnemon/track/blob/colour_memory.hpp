// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/vision/colour_space.hpp>

namespace mnemon {

/// How a target's colours were spread over the bins of a space when it was seeded, and lately. What was counted since
/// the last call of `forget` is compared with both, so that light may change slowly, and another thing that is close to
/// what was seen lately is still told from the seed. Allocates nothing once started.
class ColourMemory {
 public:
  /// \param space   Whose bins colours are sorted into.
  /// \param counts  How often the seed has each of the kColours colours.
  void start(const ColourSpace& space, std::span<const float> counts);

  /// Counts a cell of the target.
  void count(ColourIndex colour) noexcept {
    const int bin = space_.bin_of(colour);
    if (bin == ColourSpace::kNone) return;
    now_[bin] += 1;
    seen_ += 1;
  }

  /// The geometric mean of two Bhattacharyya coefficients, in [0, 1]: with the seed, and with what was seen lately.
  [[nodiscard]] double likeness() const noexcept;

  /// Moves what was seen lately towards what was counted.
  void learn(float rate) noexcept;

  /// Leaves out what was counted and not learnt.
  void forget() noexcept;

 private:
  ColourSpace space_;
  std::vector<float> seed_;
  std::vector<float> lately_;
  std::vector<float> now_;
  float seen_ = 0;
};

}  // namespace mnemon
