// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <optional>

#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// Which frames of a sequence to follow, and from what.
struct FollowRange {
  std::optional<Box> box;   ///< On the first frame followed; left out: the first truth box from there on.
  std::optional<int> from;  ///< The first frame; left out: 0.
  std::optional<int> to;    ///< The last frame; left out: the sequence's last.
};

/// Called after every step with the frame, its row of the trace, and the tracker, whose stages can be asked
/// for.
using OnFrame = std::function<void(const Frame&, const TraceRow&, Tracker&)>;

/// Follows the target through a sequence. Times are those of the tracker's calls alone.
/// \param on_frame  May be empty.
/// \throws CallError  where the range is empty or there is nothing to seed from; Error  as the tracker and
/// the
///                    frames do, and where an estimate is not finite.
[[nodiscard]] Trace follow_sequence(Tracker& tracker, const Sequence& sequence, const FollowRange& range = {},
                                    const OnFrame& on_frame = {});

/// The frame that following starts on and the box to seed with.
struct Start {
  int frame = 0;
  Box box;
};

/// \throws CallError  where there is no box and no truth to take one from, or the range is empty.
[[nodiscard]] Start start_of(const Sequence& sequence, const FollowRange& range);

}  // namespace mnemon
