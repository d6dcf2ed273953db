// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/score/frame_score.hpp>

namespace mnemon {

/// How well claims that the target is there go with the truth, at one confidence. Source: Lukežič and others, IEEE
/// Transactions on Cybernetics 2021, for precision, recall and F of presence.
struct HoldPoint {
  double confidence = 0;  ///< Only frames at least this sure count as found.
  int right = 0;          ///< Right holds.
  int found = 0;          ///< Frames on which the tracker claims the target.
  int present = 0;        ///< Frames on which the target is there.

  /// Right holds over claims; null without claims.
  [[nodiscard]] Figure precision() const noexcept { return ratio(right, found); }
  /// Right holds over present frames; null without these.
  [[nodiscard]] Figure recall() const noexcept { return ratio(right, present); }
  /// The harmonic mean of the two.
  [[nodiscard]] Figure f() const noexcept { return ratio(2.0 * right, found + present); }
};

/// All claims, whatever their confidence. A right hold is a present frame, found, with overlap > 0.5.
/// \param frames  Scored frames only.
[[nodiscard]] HoldPoint holds(std::span<const FrameScore> frames);

/// The same at each distinct confidence of the found frames, by rising confidence.
[[nodiscard]] std::vector<HoldPoint> hold_curve(std::span<const FrameScore> frames);

/// The highest F on a curve.
[[nodiscard]] Figure best_f(std::span<const HoldPoint> curve);

}  // namespace mnemon
