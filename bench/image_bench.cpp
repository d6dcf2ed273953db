// SPDX-License-Identifier: MIT
// Sampling a grey window beside copying the pixels under it.
#include <cstring>
#include <utility>

#include <benchmark/benchmark.h>

#include <mnemon/base/random.hpp>
#include <mnemon/image/resample.hpp>

#include "ratio.hpp"

namespace mnemon::bench {
namespace {

void grey_window(benchmark::State& state) {
  const int side = static_cast<int>(state.range(0));  // of the window, px
  const int samples = static_cast<int>(state.range(1));
  Image<Byte> picture(720, 1280, 3);
  Random random(1);
  for (Byte& value : picture.elements()) value = static_cast<Byte>(random.bits());
  GreyWindow sampler(samples, samples, side, side);
  Image<float> out(samples, samples);
  Image<Byte> copied(side, side, 3);
  double x = 100;
  const auto next = [&x] { return x = x > 900 ? 100 : x + 3.7; };
  const auto sample = [&] {
    sampler.sample_into(std::as_const(picture).view(), {next(), 200.3, double(side), double(side)},
                        out.view());
    benchmark::DoNotOptimize(out(0, 0));
  };
  const auto copy = [&] {
    const int left = static_cast<int>(next());
    for (int r = 0; r < side; ++r)
      std::memcpy(copied.view().row(r), picture.view().row(200 + r) + 3 * left,
                  3 * static_cast<std::size_t>(side));
    benchmark::DoNotOptimize(copied(0, 0));
  };
  measure_ratio(state, sample, copy);
}
BENCHMARK(grey_window)
    ->Args({64, 64})
    ->Args({120, 64})
    ->Args({275, 200})
    ->UseManualTime()
    ->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace mnemon::bench
