// SPDX-License-Identifier: MIT
#include <mnemon/score/speed.hpp>

#include <array>
#include <cmath>
#include <numeric>

namespace mnemon {

StepTimes step_times(std::span<const TraceRow> rows, int seed_frame) {
  StepTimes times;
  times.step_ms.reserve(rows.size());
  for (const TraceRow& row : rows) {
    if (row.frame == seed_frame) times.seed_ms = row.step_ms;
    times.after_seed += row.frame > seed_frame ? 1 : 0;
    times.skipped += row.frame > seed_frame && row.event == Event::skip ? 1 : 0;
    const bool is_step = row.frame != seed_frame && row.event != Event::reseed && row.event != Event::skip;
    if (is_step && row.step_ms && std::isfinite(*row.step_ms)) times.step_ms.push_back(*row.step_ms);
  }
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
  const double total_s = std::accumulate(step_ms.begin(), step_ms.end(), 0.0) / 1000;
  speed.frames_per_s = ratio(speed.steps, total_s);
  return speed;
}

}  // namespace mnemon
