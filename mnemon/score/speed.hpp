// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/score/order.hpp>
#include <mnemon/sequence/trace.hpp>

namespace mnemon {

/// How long the tracker took.
struct Speed {
  Figure seed_ms;
  int steps = 0;
  Figure step_ms_mean;
  Figure step_ms_p50;
  Figure step_ms_p95;
  Figure step_ms_p99;
  Figure step_ms_worst;
  Figure frames_per_s;
};

/// The times in a trace.
struct StepTimes {
  std::vector<double>
      step_ms;  ///< Of rows with a finite time but for the seed's, reseeds and skipped frames.
  Figure seed_ms;
  int after_seed = 0;  ///< Rows after the seed's, and how many of them were skipped.
  int skipped = 0;
};
[[nodiscard]] StepTimes step_times(std::span<const TraceRow> rows, int seed_frame);

/// The figures of step times, ms; those of several runs are pooled by joining their times.
[[nodiscard]] Speed summarise_speed(std::span<const double> step_ms, Figure seed_ms);

}  // namespace mnemon
