// SPDX-License-Identifier: MIT
#include <mnemon/study/follow.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/geometry/polygon.hpp>

namespace mnemon {
namespace {

void check_finite(const Estimate& estimate, int frame) {
  const Box& box = estimate.box.box;
  for (const double number : {box.x, box.y, box.w, box.h, estimate.box.angle_deg, estimate.confidence})
    if (!std::isfinite(number))
      throw Error(
          fmt::format("the tracker's estimate for frame {} holds a number that is not finite", frame));
}

TraceRow timed_step(Tracker& tracker, const Frame& frame, const Box* seed) {
  const Stopwatch stopwatch;
  const Estimate estimate = seed != nullptr ? tracker.seed(frame, *seed) : tracker.follow(frame);
  const double step_ms = stopwatch.elapsed_ms();
  check_finite(estimate, frame.index);
  return {frame.index,      estimate.box, estimate.confidence,
          estimate.present, step_ms,      seed != nullptr ? Event::seed : Event::none};
}

}  // namespace

Start start_of(const Sequence& sequence, const FollowRange& range) {
  const int first = range.from.value_or(0);
  if (range.to && *range.to < first)
    throw CallError(fmt::format("the frames end at {} before they begin at {}", *range.to, first));
  if (range.box) return {first, *range.box};
  for (const TruthRow& row : sequence.truth.rows)
    if (row.present && row.frame >= first) {
      if (range.to && row.frame > *range.to) break;
      return {row.frame, is_turned(row.box) ? bounds(corners(row.box)) : row.box.box};
    }
  throw CallError(
      fmt::format("'{}' has no truth box on those frames to start from; give one as x,y,w,h", sequence.name));
}

Trace follow_sequence(Tracker& tracker, const Sequence& sequence, const FollowRange& range,
                      const OnFrame& on_frame) {
  const Start start = start_of(sequence, range);
  const auto frames = open_frames(sequence);
  for (int i = 0; i < start.frame; ++i)
    if (!frames->skip())
      throw CallError(fmt::format("'{}' has {} frames, so no frame {}", sequence.name, i, start.frame));
  Trace trace;
  while (const auto frame = frames->next()) {
    if (range.to && frame->index > *range.to) break;
    trace.rows.push_back(timed_step(tracker, *frame, trace.rows.empty() ? &start.box : nullptr));
    if (on_frame) on_frame(*frame, trace.rows.back(), tracker);
  }
  if (trace.rows.empty())
    throw CallError(
        fmt::format("'{}' has {} frames, so no frame {}", sequence.name, start.frame, start.frame));
  return trace;
}

}  // namespace mnemon
