// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <span>
#include <vector>

#include <mnemon/score/frame_score.hpp>

namespace mnemon {

inline constexpr double kRecoveryOverlap = 0.5;  ///< From here on the target counts as held again.
inline constexpr int kReturnLimit = 30;  ///< Present frames within which a return counts; Mnemon's own.

/// True for a present frame with less overlap than that.
[[nodiscard]] bool is_off(const FrameScore& frame, double loss_overlap = kLossOverlap) noexcept;

/// A stretch off the target: from its first off frame to the frame it is held again.
struct Loss {
  int begin = 0;           ///< Its first off frame.
  std::optional<int> end;  ///< None where it lasts to the end of the run.
};

/// The losses of a run that nobody helps. Absent frames neither count nor break a row of off frames.
/// \param frames  Scored frames, by rising frame.
[[nodiscard]] std::vector<Loss> find_losses(std::span<const FrameScore> frames);

/// What losses come to.
struct LossSummary {
  int losses = 0;               ///< How many there are.
  Figure recovered_share;       ///< Of those that end; null without losses.
  Figure frames_to_recover;     ///< Median of those that end.
  Figure time_off_target;       ///< Share of the present frames that lie inside losses.
  Figure frames_to_first_loss;  ///< From the seed.
};
[[nodiscard]] LossSummary summarise_losses(std::span<const FrameScore> frames, int seed_frame);

/// What happened when the target came back after absent frames.
struct Return {
  int frame = 0;              ///< The first present frame.
  std::optional<int> frames;  ///< The place, from 1, of the first present frame it is held on again.
  bool returned = false;      ///< That place is at most kReturnLimit.
};

/// Every stretch of absent frames that present ones follow.
/// \param restarts  Frames with the event loss; one ends the wait.
[[nodiscard]] std::vector<Return> find_returns(std::span<const FrameScore> frames,
                                               std::span<const int> restarts);

}  // namespace mnemon
