// SPDX-License-Identifier: MIT
#include <mnemon/score/differences.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

using Rows = std::vector<std::vector<double>>;

// Normal numbers by Box and Muller 1958.
double normal(Random& random) {
  return std::sqrt(-2 * std::log(1 - random.uniform())) * std::cos(6.283185307179586 * random.uniform());
}

// Trackers of equal merit on random sequences.
Rows equal_trackers(Random& random, int trackers, int sequences) {
  Rows rows(static_cast<std::size_t>(trackers));
  for (int i = 0; i < sequences; ++i) {
    const double difficulty = 0.2 * normal(random);
    for (auto& row : rows) row.push_back(0.6 + difficulty + 0.1 * normal(random));
  }
  return rows;
}

// The same with every pair's sample worked out anew for each draw. Sequences are few, so that all signs can be gone
// through.
double slow_quantile(const Rows& values) {
  const std::size_t n = values[0].size();
  std::vector<double> largest;
  for (unsigned signs = 0; signs < 1U << n; ++signs) {
    double most = 0;
    for (std::size_t a = 0; a < values.size(); ++a)
      for (std::size_t b = a + 1; b < values.size(); ++b) {
        double mean = 0;
        for (std::size_t i = 0; i < n; ++i) mean += (values[a][i] - values[b][i]) / static_cast<double>(n);
        std::vector<double> drawn;
        double drawn_mean = 0;
        for (std::size_t i = 0; i < n; ++i) {
          drawn.push_back(((signs >> i & 1U) != 0 ? 1 : -1) * (values[a][i] - values[b][i] - mean));
          drawn_mean += drawn.back() / static_cast<double>(n);
        }
        double squares = 0;
        for (const double one : drawn) squares += (one - drawn_mean) * (one - drawn_mean);
        const double error = std::sqrt(squares / static_cast<double>(n - 1) / static_cast<double>(n));
        most = std::max(most, std::abs(drawn_mean) / error);
      }
    largest.push_back(most);
  }
  std::ranges::sort(largest);
  return largest[static_cast<std::size_t>(0.95 * static_cast<double>(largest.size() - 1))];
}

double quantile_of(const Difference& pair, const Rows& values) {
  const std::vector<double>& a = values[pair.first];
  const std::vector<double>& b = values[pair.second];
  double squares = 0;
  for (std::size_t i = 0; i < a.size(); ++i) squares += std::pow(a[i] - b[i] - pair.mean, 2);
  const auto n = static_cast<double>(a.size());
  return (pair.interval.high - pair.mean) / std::sqrt(squares / (n - 1) / n);
}

// How often any of the pairs is held to be separated though none is.
double false_verdicts(int trackers, int sequences, int studies, std::uint64_t key) {
  Random random(key);
  int wrong = 0;
  for (int i = 0; i < studies; ++i) {
    const Rows rows = equal_trackers(random, trackers, sequences);
    wrong += std::ranges::any_of(
        simultaneous_differences(rows, {.draws = 2000}),
        [&](const Difference& pair) { return is_separated(sequences, pair.mean, pair.interval, 0); });
  }
  return static_cast<double>(wrong) / studies;
}

}  // namespace

TEST(SimultaneousDifferences, OfOnePairSolvedByHand) {
  // Differences 1, 2, 3, 4, of mean 2.5 and standard error sqrt(5/3/4). Of the 16 ways to give signs to -1.5, -0.5,
  // 0.5 and 1.5 two give the largest |mean|, 1, and with it |t| = 3.873: the 95th percentile of the 16.
  const auto pairs = simultaneous_differences(Rows{{1, 2, 3, 4}, {0, 0, 0, 0}});
  ASSERT_EQ(pairs.size(), 1U);
  EXPECT_DOUBLE_EQ(pairs[0].mean, 2.5);
  const double error = std::sqrt(5.0 / 3 / 4);
  const double t = 1 / std::sqrt((5.0 - 4) / 3 / 4);
  EXPECT_NEAR(pairs[0].interval.low, 2.5 - t * error, 1e-12);
  EXPECT_NEAR(pairs[0].interval.high, 2.5 + t * error, 1e-12);
}

TEST(SimultaneousDifferences, AgreeWithGoingThroughAllSigns) {
  Random random(3);
  for (const int trackers : {2, 3, 5}) {
    const Rows rows = equal_trackers(random, trackers, 10);
    const auto pairs = simultaneous_differences(rows);
    const double exact = slow_quantile(rows);
    // 10 000 draws place the 95th percentile within three standard errors, 0.65 % of the draws, of its rank: over
    // 1024 ways these few ranks lie close together.
    for (const Difference& pair : pairs) EXPECT_NEAR(quantile_of(pair, rows), exact, 0.06 * exact);
  }
}

TEST(SimultaneousDifferences, AreTheSameTurnedRoundAndShifted) {
  Random random(4);
  const Rows rows = equal_trackers(random, 2, 12);
  const Difference there = simultaneous_differences(rows)[0];
  const Difference back = simultaneous_differences(Rows{rows[1], rows[0]})[0];
  EXPECT_NEAR(there.interval.low, -back.interval.high, 1e-12);
  EXPECT_NEAR(there.interval.high, -back.interval.low, 1e-12);
  Rows shifted = rows;
  for (double& value : shifted[0]) value += 0.25;
  EXPECT_NEAR(simultaneous_differences(shifted)[0].interval.low, there.interval.low + 0.25, 1e-12);
}

TEST(SimultaneousDifferences, OfTooLittleSayNothing) {
  EXPECT_TRUE(simultaneous_differences({}).empty());
  EXPECT_TRUE(simultaneous_differences(Rows{{1, 2, 3}}).empty());
  EXPECT_TRUE(simultaneous_differences(Rows{{1}, {2}}).empty());
  // Of two sequences either all signs agree, where |t| has no bound, or |t| is 0.
  EXPECT_TRUE(std::isinf(simultaneous_differences(Rows{{0.5, 0.9}, {0.1, 0.1}})[0].interval.high));
  const Difference alike = simultaneous_differences(Rows{{0.9, 0.8, 0.7}, {0.4, 0.3, 0.2}})[0];
  EXPECT_NEAR(alike.interval.low, 0.5, 1e-9);
  EXPECT_NEAR(alike.interval.high, 0.5, 1e-9);
}

TEST(SimultaneousDifferences, SeldomSeparateEqualTrackers) {
  // Two cells of the table in docs/scores.md, at fixed random numbers. Of 200 studies 5 % is 10, and twice their
  // standard deviation 6.
  EXPECT_LE(false_verdicts(2, 16, 200, 11), 0.08);
  EXPECT_LE(false_verdicts(6, 8, 200, 12), 0.08);
}

}  // namespace mnemon
