// SPDX-License-Identifier: MIT
// Scoring a long run beside reading its rows once.
#include <benchmark/benchmark.h>

#include <mnemon/base/random.hpp>
#include <mnemon/score/run_score.hpp>

#include "ratio.hpp"

namespace mnemon::bench {
namespace {

void score_whole_run(benchmark::State& state) {
  const int frames = static_cast<int>(state.range(0));
  Random random(3);
  Truth truth;
  Trace trace;
  for (int i = 0; i < frames; ++i) {
    const Box box{random.uniform(0, 600), random.uniform(0, 300), 40, 50};
    truth.rows.push_back({i, {box, 0}, true, 1});
    trace.rows.push_back(
        {i, {{box.x + random.uniform(-9, 9), box.y, 40, 50}, 0}, random.uniform(), true, 0.1, Event::none});
  }
  const auto score = [&] {
    const RunScore scored = score_run(truth, trace);
    if (scored.scored_frames != frames - 1) state.SkipWithError("frames are missing");
  };
  const auto read = [&] {
    double sum = 0;
    for (int i = 0; i < frames; ++i) sum += truth.rows[i].box.box.x - trace.rows[i].box.box.x;
    benchmark::DoNotOptimize(sum);
  };
  measure_ratio(state, score, read);
  state.SetItemsProcessed(state.iterations() * frames);
}
BENCHMARK(score_whole_run)->Arg(100000)->UseManualTime()->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace mnemon::bench
