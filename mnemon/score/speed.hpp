// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/score/order.hpp>
#include <mnemon/sequence/trace.hpp>

namespace mnemon {

/// How long the tracker took.
struct Speed {
  Figure seed_ms;        ///< The time that seeding took, ms.
  int steps = 0;         ///< How many were timed.
  Figure step_ms_mean;   ///< Ms.
  Figure step_ms_p50;    ///< The middle one, ms.
  Figure step_ms_p95;    ///< What 95 of 100 stay below, ms.
  Figure step_ms_p99;    ///< What 99 of 100 stay below, ms.
  Figure step_ms_worst;  ///< The longest, ms.
  Figure frames_per_s;   ///< One over the mean step.
};

/// The times in a trace.
struct StepTimes {
  std::vector<double>
      step_ms;         ///< Of rows with a finite time but for the seed's, reseeds and skipped frames.
  Figure seed_ms;      ///< The time that seeding took, ms.
  int after_seed = 0;  ///< Rows after the seed's, and how many of them were skipped.
  int skipped = 0;     ///< Frames that were passed over.
};
[[nodiscard]] StepTimes step_times(std::span<const TraceRow> rows, int seed_frame);

/// The figures of step times, ms; those of several runs are pooled by joining their times.
[[nodiscard]] Speed summarise_speed(std::span<const double> step_ms, Figure seed_ms);

}  // namespace mnemon
