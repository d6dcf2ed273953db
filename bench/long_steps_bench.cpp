// SPDX-License-Identifier: MIT
// How much longer than the usual step the longest ones take, over flights on which the target is hidden or leaves.
#include <algorithm>
#include <memory>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>

#include <mnemon/base/stopwatch.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/score/order.hpp>
#include <mnemon/track/catalogue.hpp>

namespace mnemon::bench {
namespace {

constexpr int kRuns = 3;  // of which the calmest counts

struct Flight {
  std::vector<Image<Byte>> pictures;
  Box box;
};

const std::vector<Flight>& flights_with_losses() {
  static const std::vector<Flight> flights = [] {
    std::vector<Flight> made;
    for (const char* name : {"cloudbank", "away"}) {
      const Scene scene(demo_scene(name), {}, 1);
      Flight& flight = made.emplace_back();
      flight.box = scene.truth().rows[0].box.box;
      for (int i = 0; i < scene.params().frames; ++i) flight.pictures.push_back(scene.render(i));
    }
    return made;
  }();
  return flights;
}

// Of one run, over the mean of the steps that hold the target.
struct Long {
  double longest = 0;
  double at_99 = 0;
};

Long long_steps(const TrackerEntry& entry, const Flight& flight) {
  const auto tracker = entry.make({});
  std::vector<double> all, held;
  for (int i = 0; i < static_cast<int>(flight.pictures.size()); ++i) {
    const Frame frame{flight.pictures[static_cast<std::size_t>(i)].view(), i, i / 30.0};
    if (i == 0) {
      (void)tracker->seed(frame, flight.box);
      continue;
    }
    const Stopwatch stopwatch;
    const Estimate estimate = tracker->follow(frame);
    all.push_back(stopwatch.elapsed_ms());
    if (estimate.present) held.push_back(all.back());
  }
  double sum = 0;
  for (const double ms : held) sum += ms;
  const double mean = sum / static_cast<double>(std::max<std::size_t>(1, held.size()));
  return {*std::ranges::max_element(all) / mean, *percentile(all, 0.99) / mean};
}

void long_steps_of(benchmark::State& state, const TrackerEntry& entry) {
  Long worst;
  for (auto _ : state) {
    worst = {};
    for (const Flight& flight : flights_with_losses()) {
      Long calmest{1e9, 1e9};
      for (int i = 0; i < kRuns; ++i) {
        const Long run = long_steps(entry, flight);
        calmest = {std::min(calmest.longest, run.longest), std::min(calmest.at_99, run.at_99)};
      }
      worst = {std::max(worst.longest, calmest.longest), std::max(worst.at_99, calmest.at_99)};
    }
  }
  state.counters["longest_over_mean"] = worst.longest;
  state.counters["p99_over_mean"] = worst.at_99;
}

const bool kRegistered = [] {
  static const Catalogue catalogue = Catalogue::standard();
  for (const TrackerEntry& entry : catalogue.entries())
    if (entry.family != "floor")
      benchmark::RegisterBenchmark(("long_steps/" + entry.name).c_str(), long_steps_of, entry)
          ->Iterations(1)
          ->Unit(benchmark::kMillisecond);
  return true;
}();

}  // namespace
}  // namespace mnemon::bench
