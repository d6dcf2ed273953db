// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <vector>

#include <mnemon/score/order.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>

namespace mnemon {

/// How one frame with truth went.
struct FrameScore {
  int frame = 0;               ///< Its number in the sequence.
  bool scored = true;          ///< False for settling frames after a reseed, which only count towards a loss.
  bool present = true;         ///< The truth says so.
  bool found = false;          ///< The estimate says so, with proper finite numbers.
  bool missing = false;        ///< The trace has no row for the frame.
  double overlap = 0;          ///< In [0, 1].
  double centre_error_px = 0;  ///< Infinite where not found.
  /// Centre error over the truth's size, in the truth's own axes. Source: Müller and others, ECCV 2018.
  double relative_error = 0;
  Figure angle_error_deg;  ///< Where both boxes are turned.
  double confidence = 1;   ///< Of the estimate, in [0, 1].
};

/// A run frame by frame: the frames with truth after the seed that are scored or settling, by rising frame.
struct FrameScores {
  int seed_frame = 0;              ///< On which the tracker was given the target.
  int last_frame = 0;              ///< Of truth and trace together.
  std::vector<FrameScore> frames;  ///< One a frame.
  std::vector<int> losses;         ///< Frames with the event loss.
  std::vector<int> reseeds;        ///< Frames with the event reseed.
  bool has_positions = false;      ///< Of some row of the trace.
};

/// Below it a present frame is off. Source: Kristan and others, ECCV workshops 2020.
inline constexpr double kLossOverlap = 0.1;
/// So many off frames in a row are a loss; Mnemon's own.
inline constexpr int kLossPatience = 5;
/// Frames after a reseed that are not scored, lest it flatter. Source: Kristan and others, TPAMI 2016.
inline constexpr int kRestartSettle = 10;

/// By which rule a run was started again.
struct RestartRule {
  double loss_overlap = kLossOverlap;  ///< Below it a present frame is off.
  int loss_patience = kLossPatience;   ///< So many off frames in a row are a loss.
  int settle = kRestartSettle;         ///< Frames after a reseed that are not scored.
};

/// Whether an estimate claims the target and gives a box that can be scored.
[[nodiscard]] bool is_found(const TraceRow& row) noexcept;

/// Compares an estimate with the truth of its frame.
[[nodiscard]] FrameScore compare(const TruthRow& truth, const TraceRow& estimate) noexcept;

/// Scores a trace frame by frame. A frame with truth and no row counts as not found.
/// \param trace    At least one row; the seed frame is its seed row, or else its first.
/// \param last     The last frame of the run, where it is to end before truth and trace do.
/// \param settle   Frames after a reseed that are not scored.
/// \throws CallError  where the trace has no row up to `last`.
[[nodiscard]] FrameScores score_frames(const Truth& truth, const Trace& trace, std::optional<int> last = {},
                                       int settle = kRestartSettle);

}  // namespace mnemon
