// SPDX-License-Identifier: MIT
// What it costs that a tracker runs in another process: a step of the tracker that does nothing, beside copying a frame of
// 1280 x 720 once into memory that is not in the caches.
#include <cstring>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/run/process/process_tracker.hpp>

#include "ratio.hpp"

namespace mnemon::bench {
namespace {

constexpr int kRows = 720;
constexpr int kCols = 1280;
constexpr int kFrames = 8;  // in turn, so that they have to come from memory as frames do

void step_in_a_process(benchmark::State& state) {
  std::vector<Image<Byte>> frames;
  std::vector<Image<Byte>> copies;
  for (int i = 0; i < kFrames; ++i) {
    frames.emplace_back(kRows, kCols, 3);
    copies.emplace_back(kRows, kCols, 3);
  }
  ProcessSpec spec;
  spec.command = {MNEMON_PROGRAM, "process", "stay"};
  ProcessTracker tracker(spec);
  int at = 0;
  const auto frame = [&] { return Frame{std::as_const(frames[at % kFrames]).view(), at, at / 30.0}; };
  (void)tracker.seed(frame(), Box{100, 100, 50, 50});
  measure_ratio(
      state,
      [&] {
        ++at;
        benchmark::DoNotOptimize(tracker.follow(frame()));
      },
      [&] {
        ++at;
        std::memcpy(copies[at % kFrames].view().data, frames[at % kFrames].view().data,
                    frames[0].view().size());
        benchmark::ClobberMemory();
      });
  // To be at most 150: what there is beside 1.2 copies.
  state.counters["beside_us"] = state.counters["work_us"] - 1.2 * state.counters["bound_us"];
}
BENCHMARK(step_in_a_process)->UseManualTime()->Unit(benchmark::kMicrosecond)->Iterations(2000);

}  // namespace
}  // namespace mnemon::bench
