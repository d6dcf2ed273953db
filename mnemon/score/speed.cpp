// SPDX-License-Identifier: MIT
#include <mnemon/score/speed.hpp>

#include <cmath>
#include <numeric>

namespace mnemon {

std::vector<double> step_times(std::span<const TraceRow> rows, int seed_frame) {
  std::vector<double> times;
  for (const TraceRow& row : rows) {
    const bool is_step = row.frame != seed_frame && row.event != Event::reseed && row.event != Event::skip;
    if (is_step && row.step_ms && std::isfinite(*row.step_ms)) times.push_back(*row.step_ms);
  }
  return times;
}

Speed summarise_speed(std::span<const double> step_ms, Figure seed_ms) {
  Speed speed;
  speed.seed_ms = seed_ms;
  speed.steps = static_cast<int>(step_ms.size());
  speed.step_ms_mean = mean(step_ms);
  speed.step_ms_p50 = median(step_ms);
  speed.step_ms_p95 = percentile(step_ms, 0.95);
  speed.step_ms_p99 = percentile(step_ms, 0.99);
  speed.step_ms_worst = percentile(step_ms, 1);
  const double total_s = std::accumulate(step_ms.begin(), step_ms.end(), 0.0) / 1000;
  speed.frames_per_s = ratio(speed.steps, total_s);
  return speed;
}

}  // namespace mnemon
