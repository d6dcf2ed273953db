// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/score/frame_score.hpp>

namespace mnemon {

/// How well claims that the target is there go with the truth, at one confidence.
struct HoldPoint {
  double confidence = 0;  ///< Only frames at least this sure count as found.
  Figure precision;       ///< Right holds over found frames.
  Figure recall;          ///< Right holds over present frames.
  Figure f;               ///< 2 right holds over found and present frames together.
};

/// All claims, whatever their confidence. A right hold is a present frame, found, with overlap > 0.5.
/// \param frames  Scored frames only.
[[nodiscard]] HoldPoint holds(std::span<const FrameScore> frames);

/// The same at each distinct confidence of the found frames, by rising confidence.
[[nodiscard]] std::vector<HoldPoint> hold_curve(std::span<const FrameScore> frames);

/// The highest F on a curve.
[[nodiscard]] Figure best_f(std::span<const HoldPoint> curve);

}  // namespace mnemon
