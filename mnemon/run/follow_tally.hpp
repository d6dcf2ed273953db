// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/image/image.hpp>
#include <mnemon/score/run_score.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>

namespace mnemon {

/// What following one sequence came to.
struct FollowSummary {
  int first_frame = 0;            ///< The number of the frame of the first row.
  int last_frame = 0;             ///< And of the last.
  int frames = 0;                 ///< How many rows there are.
  int lost_frames = 0;            ///< Those on which the target was told to be absent.
  int skipped_frames = 0;         ///< Those that the tracker had no time for.
  bool rows_kept = true;          ///< Whether the middle step and the score are known.
  Figure step_ms_mean;            ///< Of the tracker's steps, ms; null where it made none.
  Figure step_ms_p50;             ///< The middle one, ms; null where rows were not kept.
  Figure frames_per_s;            ///< By the mean step; null where there is none.
  std::optional<RunScore> score;  ///< Where there is truth and rows were kept.
  int masks_compared = 0;         ///< Frames with a true mask.
  Figure mask_overlap;  ///< Mean intersection over union with the true masks; null where there are none.
};

/// Counts the rows of a trace as they come. Memory grows by what is kept alone.
class FollowTally {
 public:
  /// \param sequence    Outlives it.
  /// \param keeps_rows  Whether rows are kept, for the score and the middle step: a stream may go on for days.
  FollowTally(const Sequence& sequence, bool keeps_rows) noexcept
      : sequence_(&sequence), keeps_rows_(keeps_rows) {}

  /// The next row.
  void take(const TraceRow& row);

  /// Compares a tracker's mask of the row's frame with the true one, where there is one. A target that is told to be absent
  /// overlaps nothing.
  /// \param row   What the tracker answered on the frame.
  /// \param mask  As large as the frame, or empty.
  /// \throws DataError  where the true mask is damaged.
  void compare(const TraceRow& row, ImageView<const Byte> mask);

  /// How many rows came.
  [[nodiscard]] int frames() const noexcept { return sum_.frames; }

  /// What they come to so far.
  [[nodiscard]] FollowSummary summary() const;

 private:
  const Sequence* sequence_;
  bool keeps_rows_;
  FollowSummary sum_;  // what can be counted
  int steps_ = 0;
  double step_ms_ = 0;
  double mask_overlap_ = 0;
  Trace trace_;
};

}  // namespace mnemon
