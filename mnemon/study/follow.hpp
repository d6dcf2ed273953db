// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <limits>
#include <optional>

#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// How long a step may take; one that took longer is an error.
struct StepLimit {
  double ms = std::numeric_limits<double>::infinity();
};

/// One call of a tracker by the clock: it is seeded where there is a region, and follows otherwise.
/// \throws Error  as the tracker does, where the estimate is not finite, and where following took longer than it may.
[[nodiscard]] TraceRow timed_step(Tracker& tracker, const Frame& frame, const std::optional<Region>& seed,
                                  StepLimit limit = {});

/// Which frames of a sequence to follow, and from what.
struct FollowRange {
  std::optional<Region>
      region;               ///< On the first frame followed; left out: the first truth box from there on.
  std::optional<int> from;  ///< The first frame; left out: 0.
  std::optional<int> to;    ///< The last frame; left out: the sequence's last.
  int step = 1;             ///< Of every so many frames the first is followed.
  std::optional<int>
      width;  ///< Frames are scaled to that width for the tracker, px; boxes are those of the original.
  StepLimit limit = {};
};

/// Called for every row of the trace: the frame it belongs to, null where the row stands for a frame that was not
/// given to the tracker, and the tracker, whose stages can be asked for. Following ends where it returns false.
using OnRow = std::function<bool(const TraceRow&, const Frame*, Tracker&)>;

/// Asked on every frame until it answers with where the target is, px.
using WhereOnFrame = std::function<std::optional<Region>(const Frame&)>;

/// Follows the target through frames as they come, keeping nothing of them. A frame that is missing between two that
/// came gets a row with event `skip` and the last answer.
/// \param range     Its region is not looked at: `where` says where the target is.
/// \param on_row    May be empty.
/// \throws CallError  where the range is empty; Error  as the tracker and the frames do, and where an estimate
///                    is not finite.
void follow_frames(Tracker& tracker, FrameSource& frames, const FollowRange& range, const WhereOnFrame& where,
                   const OnRow& on_row);

/// Where the range's region, or else the sequence's truth, has the target: the region on the first frame from
/// `range.from` on, or the truth box of the first frame from there on that has one. The sequence must outlive it.
[[nodiscard]] WhereOnFrame known_place(const Sequence& sequence, const FollowRange& range);

/// Follows the target through a sequence and keeps the trace. Times are those of the tracker's calls alone. Frames are
/// read on the calling thread, between the calls.
/// \throws CallError  where the range is empty or there is nothing to seed from; Error  as follow_frames.
[[nodiscard]] Trace follow_sequence(Tracker& tracker, const Sequence& sequence,
                                    const FollowRange& range = {});

/// Passes over the frames before `first`.
/// \param name  What messages call the frames.
/// \throws CallError  where there are fewer.
void skip_to(FrameSource& frames, int first, const std::string& name);

/// The frame that following starts on.
/// \throws CallError  where there is no box and no truth to take one from, or the range is empty.
[[nodiscard]] int start_of(const Sequence& sequence, const FollowRange& range);

}  // namespace mnemon
