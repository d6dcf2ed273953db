// SPDX-License-Identifier: MIT
#include <mnemon/score/speed.hpp>

#include <array>
#include <cmath>
#include <limits>

namespace mnemon {

StepTimes step_times(std::span<const TraceRow> rows, int seed_frame) {
  StepTimes times;
  times.step_ms.resize(rows.size());
  std::size_t steps = 0;
  for (const TraceRow& row : rows) {
    const bool is_seed = row.frame == seed_frame;
    const bool is_skip = row.event == Event::skip;
    const bool is_after = row.frame > seed_frame;
    if (is_seed) times.seed_ms = row.step_ms;
    times.after_seed += is_after ? 1 : 0;
    times.skipped += is_after && is_skip ? 1 : 0;
    const double step_ms = row.step_ms.value_or(std::numeric_limits<double>::infinity());
    times.step_ms[steps] = step_ms;  // to be written over where it does not count
    steps += !is_seed && !is_skip && row.event != Event::reseed && row.event != Event::mark &&
                     std::isfinite(step_ms)
                 ? 1
                 : 0;
  }
  times.step_ms.resize(steps);
  return times;
}

Speed summarise_speed(std::span<const double> step_ms, Figure seed_ms) {
  Speed speed;
  speed.seed_ms = seed_ms;
  speed.steps = static_cast<int>(step_ms.size());
  speed.step_ms_mean = mean(step_ms);
  const std::vector<Figure> at = percentiles(step_ms, std::array{0.5, 0.95, 0.99, 1.0});
  speed.step_ms_p50 = at[0];
  speed.step_ms_p95 = at[1];
  speed.step_ms_p99 = at[2];
  speed.step_ms_worst = at[3];
  if (speed.step_ms_mean) speed.frames_per_s = ratio(1000, *speed.step_ms_mean);
  return speed;
}

}  // namespace mnemon
