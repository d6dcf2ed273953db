// SPDX-License-Identifier: MIT
#pragma once
#include <limits>
#include <optional>

#include <mnemon/sequence/trace.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// How long a step may take; one that took longer is an error.
struct StepLimit {
  /// The most that it may take; no limit where infinite.
  double ms = std::numeric_limits<double>::infinity();
};

/// One call of a tracker by the clock: it is seeded where there is a region, and follows otherwise. What points mark is
/// cut out before the clock starts.
/// \throws Error  as the tracker does, where the estimate is not finite, and where following took longer than it may.
[[nodiscard]] TraceRow timed_step(Tracker& tracker, const Frame& frame, const std::optional<Region>& seed,
                                  StepLimit limit = {});

}  // namespace mnemon
