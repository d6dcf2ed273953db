// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/score/frame_score.hpp>
#include <mnemon/score/run_score.hpp>
/// \file
/// Every loss and every absence of a run, with what went before it and why: for looking at failures one by one.
/// The words for causes are Mnemon's own.
namespace mnemon {

/// Whether the tracker left a target that was there, or the target left.
enum class Trouble { loss, absence };

/// How a stretch of trouble ended.
enum class TroubleEnd {
  recovered,  ///< The target was held again: within 30 present frames where it had been away.
  late,       ///< It was held again later than that; of absences alone.
  never       ///< It was not held again before the run ended.
};

/// Why, as far as truth and answers tell.
enum class TroubleCause {
  took_another,  ///< The box lay on a look-alike for a third of the frames looked at, or more.
  said_lost,     ///< The tracker claimed nothing on most of them.
  shrank_or_swelled,  ///< The centre was in the target, but the box was less than a quarter or more than four times as large.
  stayed_behind,   ///< The box stayed within a target's size of where the target was when it was held last.
  went_elsewhere,  ///< None of these.
  told,            ///< Of an absence: the tracker said so on most frames.
  claimed_what_is_not  ///< Of an absence: it claimed the target, and no look-alike, on most frames.
};

/// One of them.
struct TroubleRow {
  Trouble kind = Trouble::loss;        ///< What went wrong.
  int begin = 0;                       ///< The first frame off the target, or the first without it.
  int frames = 0;                      ///< Until the target is held again, or to the end of the run.
  int absent_frames = 0;               ///< Of an absence: how many of these the target is away for.
  TroubleEnd end = TroubleEnd::never;  ///< How it ended.
  TroubleCause cause = TroubleCause::went_elsewhere;  ///< What it was most like.
  bool said_lost = false;                             ///< The tracker claimed nothing on some frame of it.
  Figure overlap_before;                              ///< Mean over up to five present frames before.
  Figure confidence_before;                           ///< Of the same frames.
  std::string other;          ///< The look-alike that it was on longest; empty for none.
  Figure overlap_with_other;  ///< Mean over the frames on which it was on that one.
};

/// `took another`, `said lost`, `shrank or swelled`, `stayed behind`, `went elsewhere`, `told`, `claimed what is not there`.
[[nodiscard]] std::string_view cause_text(TroubleCause cause) noexcept;
/// `recovered`, `returned late`, `never came back`.
[[nodiscard]] std::string_view end_text(TroubleEnd end) noexcept;
/// `loss` or `absence`.
[[nodiscard]] std::string_view trouble_text(Trouble kind) noexcept;

/// By rising first frame. Losses are those of find_losses, absences those stretches that find_returns waits for and one
/// that lasts to the end of the run.
/// \param frames  Scored frames of an unaided run, by rising frame.
/// \param truth   Of the sequence.
/// \param trace   What was answered.
[[nodiscard]] std::vector<TroubleRow> troubles(std::span<const FrameScore> frames, const Truth& truth,
                                               const Trace& trace);

/// The same of a whole run, scored by these options; empty for one that was started again.
[[nodiscard]] std::vector<TroubleRow> troubles_of_run(const Truth& truth, const Trace& trace,
                                                      const ScoreOptions& options);

}  // namespace mnemon
