// SPDX-License-Identifier: MIT
#include <mnemon/run/timed_step.hpp>

#include <cmath>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/track/marked/marked_mask.hpp>

namespace mnemon {
namespace {

void check_finite(const Estimate& estimate, int frame) {
  const Box& box = estimate.box.box;
  for (const double number : {box.x, box.y, box.w, box.h, estimate.box.angle_deg, estimate.confidence})
    if (!std::isfinite(number))
      throw Error(
          fmt::format("the tracker's estimate for frame {} holds a number that is not finite", frame));
}

}  // namespace

TraceRow timed_step(Tracker& tracker, const Frame& frame, const std::optional<Region>& seed,
                    StepLimit limit) {
  Image<Byte> cut;
  if (const auto* marks = seed ? std::get_if<PointMarks>(&*seed) : nullptr) cut = marked_mask(frame, *marks);
  const std::optional<Region> region = cut.empty() ? seed : Region(std::as_const(cut).view());
  if (region) tracker.prepare(frame);
  const Stopwatch stopwatch;
  const Estimate estimate = region ? tracker.seed(frame, *region) : tracker.follow(frame);
  const double step_ms = stopwatch.elapsed_ms();
  check_finite(estimate, frame.index);
  if (!seed && step_ms > limit.ms)
    throw Error(fmt::format("the step on frame {} took {:.1f} ms; step_limit_ms is {:g}", frame.index,
                            step_ms, limit.ms));
  TraceRow row{frame.index,      estimate.box, estimate.confidence,
               estimate.present, step_ms,      seed ? Event::seed : Event::none};
  row.minor_px = estimate.minor_px;
  return row;
}

}  // namespace mnemon
