// SPDX-License-Identifier: MIT
// Rendering a frame of 640 x 360 beside copying its memory once.
#include <cstring>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/scene/scene.hpp>

#include "ratio.hpp"

namespace mnemon::bench {
namespace {

void render_frame(benchmark::State& state) {
  const SceneSpec& spec = demo_scenes()[static_cast<std::size_t>(state.range(0))];
  const Scene scene(spec, {}, 1);
  std::vector<float> from(640 * 360 * 3);
  std::vector<float> to(from.size());
  int frame = 0;
  const auto render = [&] {
    benchmark::DoNotOptimize(scene.render(frame = (frame + 1) % scene.params().frames)(0, 0));
  };
  const auto copy = [&] {
    std::memcpy(to.data(), from.data(), sizeof(float) * from.size());
    benchmark::DoNotOptimize(to[0]);
  };
  measure_ratio(state, render, copy);
  state.SetLabel(spec.name);
  state.SetItemsProcessed(state.iterations());
}
BENCHMARK(render_frame)->DenseRange(0, 14)->UseManualTime()->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace mnemon::bench
