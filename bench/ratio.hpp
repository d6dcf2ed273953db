// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/base/stopwatch.hpp>
#include <mnemon/score/order.hpp>

namespace mnemon::bench {

/// Times `work` and `bound` in turn, so that a machine that changes its speed changes both, and reports the
/// median of each in microseconds, and the median of their ratios with its quartiles.
template <class Work, class Bound>
void measure_ratio(benchmark::State& state, Work work, Bound bound) {
  std::vector<double> works, bounds, ratios;
  for (auto _ : state) {
    const Stopwatch first;
    work();
    const double work_us = 1000 * first.elapsed_ms();
    const Stopwatch second;
    bound();
    const double bound_us = 1000 * second.elapsed_ms();
    state.SetIterationTime(work_us * 1e-6);
    works.push_back(work_us);
    bounds.push_back(bound_us);
    ratios.push_back(work_us / bound_us);
  }
  state.counters["work_us"] = *median(works);
  state.counters["bound_us"] = *median(bounds);
  state.counters["ratio"] = *median(ratios);
  state.counters["ratio_q1"] = *percentile(ratios, 0.25);
  state.counters["ratio_q3"] = *percentile(ratios, 0.75);
}

}  // namespace mnemon::bench
