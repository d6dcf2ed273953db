// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/run/protocol.hpp>

namespace mnemon {

/// On the frames that a camera would have delivered by the time the tracker is free. Source: Li, Wang and Ramanan,
/// ECCV 2020.
struct LiveParams {
  double rate_hz = 0;
  static void describe(auto& schema) {
    schema.field("rate_hz", &LiveParams::rate_hz, {0, 100000}, "Hz",
                 "Frames a second that the camera delivers; 0: as many as the sequence says.");
  }
};

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

/// The live success area at 5, 10, 15, 24, 25, 30, 50, 60, 90, 120, 240, 480 and 960 Hz, by rising rate. The tracker is run
/// again at each rate that would make it skip frames, with the times of `whole`, the run on every frame. `make` makes the tracker
/// anew. Null where a run has no area.
[[nodiscard]] std::vector<RateArea> areas_by_rate(const MakeTracker& make, const OpenFrames& open,
                                                  const Start& start, const Truth& truth, const Trace& whole);

/// The highest of these rates at which the success area is at least 0.95 of that of a run that had time for every frame.
/// \param whole  That run's success area.
/// \returns  Nothing where there is no such rate, or that area is null or 0.
[[nodiscard]] Figure highest_live_rate(const std::vector<RateArea>& areas, const Figure& whole);

/// The protocol `live`.
[[nodiscard]] ProtocolEntry live_protocol();

}  // namespace mnemon
