// SPDX-License-Identifier: MIT
#include <mnemon/run/smoothed_steps.hpp>

namespace mnemon {

SmoothedSteps::SmoothedSteps(double smooth_s, StepLimit limit)
    : smooth_s_(smooth_s), smoother_(smooth_s), limit_(limit) {}

TraceRow SmoothedSteps::take(Tracker& tracker, const Frame& frame, const std::optional<Region>& mark) {
  TraceRow row = timed_step(tracker, frame, mark, limit_);
  if (smooth_s_ > 0) {
    if (mark || !row.present) smoother_.reset();
    if (row.present) row.box = smoother_.take(row.box, frame.time_s);
  }
  return row;
}

}  // namespace mnemon
