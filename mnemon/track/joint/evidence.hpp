// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// What speaks for and against the answer of one of two ways of following, on one frame.
struct Evidence {
  double confidence = 1;  ///< Its own, in [0, 1].
  double contrast = 0;    ///< How far what is in its box stands out in the target's colours, in [-1, 1].
  bool agrees = true;     ///< Whether the other way sees the target there, too.
  bool was_lost = false;  ///< Whether it has lost the target since both agreed.
  double size_change =
      0;  ///< Of its box since both agreed: the logarithm of how often the one area is in the other.
};

/// How likely it is that an answer's box overlaps the target's by more than half, by logistic regression over the evidence.
struct EvidenceWeights {
  double none;         ///< Log odds without any evidence.
  double confidence;   ///< Of the log odds of its own confidence.
  double contrast;     ///< Of its contrast.
  double agreement;    ///< Where the other way agrees.
  double loss;         ///< Where it was lost since both agreed.
  double size_change;  ///< Of its change of size.

  /// \returns  In (0, 1).
  [[nodiscard]] double belief(const Evidence& evidence) const noexcept;
};

/// What became of one way's answers since it agreed with the other.
class SinceAgreed {
 public:
  SinceAgreed() = default;
  /// Both agree on the seed.
  explicit SinceAgreed(const Box& seeded) noexcept : agreed_area_(seeded.w * seeded.h) {}

  /// Takes the next frame's answer.
  void take(const Estimate& answer, bool agrees) noexcept {
    if (agrees) {
      agreed_area_ = answer.box.box.w * answer.box.box.h;
      was_lost_ = false;
    }
    was_lost_ = was_lost_ || !answer.present;
  }

  /// Whether it said that the target was absent.
  [[nodiscard]] bool was_lost() const noexcept { return was_lost_; }

  /// How far a box of some area differs in size from the one that was agreed on: the logarithm of how often the smaller area is
  /// in the larger.
  [[nodiscard]] double size_change(const Box& box) const noexcept;

 private:
  double agreed_area_ = 1;
  bool was_lost_ = false;
};

}  // namespace mnemon
