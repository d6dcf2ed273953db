// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/score/frame_score.hpp>

namespace mnemon {

/// From a seed or reseed to the first off frame of the loss that ends it, or to the end of the run.
struct Stretch {
  int frames = 0;     ///< How long it lasted.
  bool lost = false;  ///< False where the end of the run cut it short.
  bool operator==(const Stretch&) const = default;
};

/// The Kaplan-Meier estimate of the share of stretches that last longer than n frames. Source: Smeulders and others,
/// TPAMI 2014, for survival as a measure of trackers.
struct SurvivalPoint {
  int n = 0;         ///< Frames.
  double share = 0;  ///< In [0, 1].
};

/// The stretches of a run that was restarted, in order.
[[nodiscard]] std::vector<Stretch> find_stretches(const FrameScores& scores, const RestartRule& rule = {});

/// A point at every length at which a stretch was lost, by rising length. Of equal lengths the lost ones go
/// first. Source: Kaplan and Meier 1958, nonparametric estimation from incomplete observations.
[[nodiscard]] std::vector<SurvivalPoint> survival_curve(std::span<const Stretch> stretches);

/// The first n at which the estimate is at most one half.
[[nodiscard]] Figure median_hold(std::span<const SurvivalPoint> curve);

/// The mean overlap of the scored present frames less the off frames that led to each loss.
[[nodiscard]] Figure held_overlap(const FrameScores& scores, const RestartRule& rule = {});

}  // namespace mnemon
