// SPDX-License-Identifier: MIT
// Scoring runs beside reading their rows once, and overlaps beside reading their numbers once.
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/base/random.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/geometry/box_planes.hpp>
#include <mnemon/score/run_score.hpp>

#include "ratio.hpp"

namespace mnemon::bench {
namespace {

struct Run {
  Truth truth;
  Trace trace;
};

Run random_run(Random& random, int frames) {
  Run run;
  for (int i = 0; i < frames; ++i) {
    const Box box{random.uniform(0, 600), random.uniform(0, 300), 40, 50};
    run.truth.rows.push_back({i, {box, 0}, true, 1, {}});
    run.trace.rows.push_back({i,
                              {{box.x + random.uniform(-9, 9), box.y, 40, 50}, 0},
                              random.uniform(),
                              true,
                              random.uniform(0.1, 0.2),
                              Event::none});
  }
  return run;
}

// Runs of so many frames, together more than the caches hold, on so many cores (0: all).
void score_whole_runs(benchmark::State& state) {
  const int frames = static_cast<int>(state.range(0));
  const int cores = static_cast<int>(state.range(1));
  const int count = 400000 / frames;
  Random random(3);
  std::vector<Run> runs;
  for (int i = 0; i < count; ++i) runs.push_back(random_run(random, frames));
  const auto score = [&] {
    for_each_index(count, cores, [&](int i) {
      if (score_run(runs[i].truth, runs[i].trace).scored_frames != frames - 1)
        state.SkipWithError("frames are missing");
    });
  };
  const auto read = [&] {
    double sum = 0;
    for (const Run& run : runs)
      for (int i = 0; i < frames; ++i) sum += run.truth.rows[i].box.box.x - run.trace.rows[i].box.box.x;
    benchmark::DoNotOptimize(sum);
  };
  measure_ratio(state, score, read);
  state.SetItemsProcessed(state.iterations() * frames * count);
}
BENCHMARK(score_whole_runs)
    ->ArgNames({"frames", "cores"})
    ->Args({1000, 1})
    ->Args({1000, 0})
    ->Args({100000, 1})
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);

void overlap_pairs(benchmark::State& state) {
  const auto count = static_cast<std::size_t>(state.range(0));
  Random random(5);
  std::vector<double> planes[8];
  for (auto& plane : planes)
    for (std::size_t i = 0; i < count; ++i) plane.push_back(random.uniform(5, 60));
  const BoxPlanes a{planes[0], planes[1], planes[2], planes[3]};
  const BoxPlanes b{planes[4], planes[5], planes[6], planes[7]};
  std::vector<double> out(count);
  const auto compare = [&] { overlaps_into(a, b, out); };
  const auto read = [&] {
    double sum[8] = {};
    for (std::size_t i = 0; i < count; ++i)
      for (int k = 0; k < 8; ++k) sum[k] += planes[k][i];
    benchmark::DoNotOptimize(sum);
  };
  measure_ratio(state, compare, read);
  for (std::size_t i = 0; i < count; i += 997)
    if (out[i] != overlap(Box{a.x[i], a.y[i], a.w[i], a.h[i]}, Box{b.x[i], b.y[i], b.w[i], b.h[i]}))
      state.SkipWithError("an overlap is wrong");
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(count));
}
BENCHMARK(overlap_pairs)->Arg(256)->Arg(1 << 21)->UseManualTime()->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace mnemon::bench
