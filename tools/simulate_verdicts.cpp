// SPDX-License-Identifier: MIT
// How often the verdicts of a report are false where no tracker is better, and how many sequences a true difference needs to
// be told: the tables of docs/scores.md, as Markdown. Built with -DMNEMON_BENCH=ON; takes minutes.
//   build/release/tools/simulate_verdicts [STUDIES]      studies a cell (200)
#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <numbers>
#include <vector>

#include <mnemon/base/random.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/score/differences.hpp>

namespace {

using mnemon::Random;
using Rows = std::vector<std::vector<double>>;

double normal(Random& random) {
  const double radius = std::sqrt(-2 * std::log(1 - random.uniform()));
  return radius * std::cos(2 * std::numbers::pi * random.uniform());
}

// How the scores of trackers of the same true mean spread about the difficulty that they share on a sequence.
enum class Spread { even, skewed, unequal, twins, rare };
constexpr std::array kSpreads{Spread::even, Spread::skewed, Spread::unequal, Spread::twins, Spread::rare};
constexpr std::array kSpreadNames{"even", "skewed", "unequal spread", "near twins",
                                  "rare against frequent loss"};

constexpr double kDeviation = 0.1;
constexpr double kLoss = 0.5;  // of success area, where a target is lost

double deviation(Spread spread, int tracker, int trackers, double twin, Random& random) {
  switch (spread) {
    case Spread::skewed:  // small gains, now and then a large loss
      return kDeviation * (1 + std::log(1 - random.uniform()));
    case Spread::unequal:
      return (0.03 + 0.17 * tracker / std::max(1, trackers - 1)) * normal(random);
    case Spread::twins:
      return tracker < 2 ? kDeviation * twin + 0.01 * normal(random) : kDeviation * normal(random);
    case Spread::
        rare: {  // the first loses on 3 % of sequences, the others on 40 %, and the means are the same
      const double share = tracker == 0 ? 0.03 : 0.4;
      return 0.02 * normal(random) + kLoss * (share - (random.uniform() < share ? 1 : 0));
    }
    case Spread::even:
      break;
  }
  return kDeviation * normal(random);
}

// Scores of trackers of which the first is better than the others by so much.
Rows study_of(Spread spread, int trackers, int sequences, double gain, Random& random) {
  Rows rows(static_cast<std::size_t>(trackers));
  for (int k = 0; k < sequences; ++k) {
    const double shared = random.uniform(0.3, 0.9);
    const double twin = normal(random);
    for (int t = 0; t < trackers; ++t)
      rows[static_cast<std::size_t>(t)].push_back(shared + (t == 0 ? gain : 0) +
                                                  deviation(spread, t, trackers, twin, random));
  }
  return rows;
}

// The share of studies with a verdict that `counts`.
template <class Counts>
double share_of(Spread spread, int trackers, int sequences, double gain, int studies, Counts counts) {
  std::atomic<int> found = 0;
  mnemon::for_each_index(studies, 0, [&](int study) {
    Random random(mnemon::mix_bits(static_cast<std::uint64_t>(study) * 1000 +
                                   static_cast<std::uint64_t>(trackers * 100 + sequences)) +
                  static_cast<std::uint64_t>(spread));
    const auto pairs = mnemon::simultaneous_differences(study_of(spread, trackers, sequences, gain, random));
    found += std::ranges::any_of(pairs, [&](const mnemon::Difference& pair) {
      return mnemon::is_separated(sequences, pair.mean, pair.interval) && counts(pair);
    });
  });
  return static_cast<double>(found) / studies;
}

}  // namespace

int main(int argc, char** argv) {
  const int studies = argc > 1 ? std::atoi(argv[1]) : 200;
  if (studies < 1 || argc > 2) {
    std::fputs("Usage: simulate_verdicts [STUDIES]\n", stderr);
    return 2;
  }
  std::printf("| scores | trackers | 8 sequences | 16 | 40 |\n|---|---:|---:|---:|---:|\n");
  for (const Spread spread : kSpreads)
    for (const int trackers : {2, 12}) {
      std::printf("| %s | %d |", kSpreadNames[static_cast<std::size_t>(spread)], trackers);
      for (const int sequences : {8, 16, 40})
        std::printf(" %.1f %% |", 100 * share_of(spread, trackers, sequences, 0, studies,
                                                 [](const mnemon::Difference&) { return true; }));
      std::printf("\n");
      std::fflush(stdout);
    }
  std::printf(
      "\n| true difference | trackers | 6 sequences | 10 | 20 | 40 | 80 "
      "|\n|---|---:|---:|---:|---:|---:|---:|\n");
  for (const double gain : {0.05, 0.1})
    for (const int trackers : {2, 12}) {
      std::printf("| %.2f | %d |", gain, trackers);
      for (const int sequences : {6, 10, 20, 40, 80})
        std::printf(" %.0f %% |", 100 * share_of(Spread::even, trackers, sequences, gain, studies,
                                                 [](const mnemon::Difference& pair) {
                                                   return pair.first == 0 && pair.second == 1 &&
                                                          pair.mean > 0;
                                                 }));
      std::printf("\n");
      std::fflush(stdout);
    }
  return 0;
}
