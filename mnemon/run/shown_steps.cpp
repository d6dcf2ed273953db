// SPDX-License-Identifier: MIT
#include <mnemon/run/shown_steps.hpp>

namespace mnemon {

ShownSteps::ShownSteps(std::optional<int> width, double smooth_s, StepLimit limit)
    : view_(width), smooth_s_(smooth_s), smoother_(smooth_s), limit_(limit) {}

TraceRow ShownSteps::take(Tracker& tracker, const Frame& frame, const std::optional<Region>& mark) {
  const Frame shown = view_.shown(frame);
  TraceRow row =
      timed_step(tracker, shown, mark ? std::optional(view_.to_shown(*mark)) : std::nullopt, limit_);
  row.box = view_.to_original(row.box);
  if (row.minor_px) row.minor_px = view_.to_original(*row.minor_px);
  if (smooth_s_ > 0) {
    if (mark || !row.present) smoother_.reset();
    if (row.present) row.box = smoother_.take(row.box, frame.time_s);
  }
  return row;
}

}  // namespace mnemon
