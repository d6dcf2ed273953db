// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <memory>

#include <mnemon/score/order.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/study/follow.hpp>
#include <mnemon/study/protocol.hpp>
/// \file
/// The protocols at work on one tracker and one sequence. All throw Error as the tracker and the frames do, where an
/// estimate is not finite, and where a step takes longer than it may.
namespace mnemon {

/// Opens the frames of a sequence from the first.
using OpenFrames = std::function<std::unique_ptr<FrameSource>()>;

/// From a start to the end, with nobody's help.
[[nodiscard]] Trace follow_unaided(Tracker& tracker, FrameSource& frames, const Start& start,
                                   StepLimit limit = {});

/// From a start to the end, started afresh from truth after each loss: the frame on which the loss is certain has the
/// event `loss`, the next on which it may start again `reseed`, and those between are skipped, with empty numbers.
[[nodiscard]] Trace follow_with_restarts(Tracker& tracker, FrameSource& frames, const Start& start,
                                         const Truth& truth, const RestartParams& params,
                                         StepLimit limit = {});

/// What a call took by the clock that counts, ms, given the frame and what it took now.
using ClockOf = std::function<double(int frame, double measured_ms)>;

/// On a virtual clock on which the n-th frame after the start arrives n / rate_hz seconds after it. Seeding begins
/// with the start's arrival; whenever the tracker is free it takes the newest frame that has arrived. Each row holds
/// the newest answer there is when the next frame arrives, and is not present where there is none yet; `skip` marks the
/// frames that were not taken. The run is over when a frame after the last would arrive.
/// `count` is the number of frames, counted from the sequence's first; without a `clock` times are those measured on the
/// spot.
[[nodiscard]] Trace follow_live(Tracker& tracker, FrameSource& frames, const Start& start, int count,
                                double rate_hz, const ClockOf& clock = {}, StepLimit limit = {});

/// The highest of 5, 10, 15, 24, 25, 30, 50, 60, 90, 120, 240, 480, 960 Hz at which the live success area is at least
/// 0.95 of that of a run that had time for every frame. The tracker is run again at each rate that would make it skip
/// frames, with the times of `whole`, the run on every frame. `make` makes the tracker anew.
/// \returns  Nothing where there is no such rate, or that run's success area is null or 0.
[[nodiscard]] Figure highest_live_rate(const std::function<std::unique_ptr<Tracker>()>& make,
                                       const OpenFrames& open, const Start& start, const Truth& truth,
                                       const Trace& whole);

}  // namespace mnemon
