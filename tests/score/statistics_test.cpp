// SPDX-License-Identifier: MIT
#include <mnemon/score/statistics.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

// The test by its definition: every way to give signs, each as likely.
double counted_p(const std::vector<double>& differences) {
  std::vector<double> sizes;
  for (const double d : differences)
    if (d != 0) sizes.push_back(std::abs(d));
  const auto rank = [&](double size) {
    double below = 0;
    double equal = 0;
    for (const double other : sizes) {
      below += other < size ? 1 : 0;
      equal += other == size ? 1 : 0;
    }
    return below + (equal + 1) / 2;
  };
  double seen = 0;
  double total = 0;
  for (const double d : differences) {
    if (d == 0) continue;
    seen += d > 0 ? rank(std::abs(d)) : 0;
    total += rank(std::abs(d));
  }
  const std::size_t ways = std::size_t{1} << sizes.size();
  std::size_t far = 0;
  for (std::size_t signs = 0; signs < ways; ++signs) {
    double sum = 0;
    for (std::size_t i = 0; i < sizes.size(); ++i) sum += (signs >> i & 1U) != 0 ? rank(sizes[i]) : 0;
    far += std::abs(sum - total / 2) >= std::abs(seen - total / 2) - 1e-9 ? 1 : 0;
  }
  return static_cast<double>(far) / static_cast<double>(ways);
}

double normal(Random& random) {
  double sum = -6;
  for (int i = 0; i < 12; ++i) sum += random.uniform();
  return sum;
}

}  // namespace

TEST(SignedRank, IsThatOfASolvedCase) {
  // Ranks of the sizes 1 to 6; the negative ones have 1 and 3, the positive 2 + 4 + 5 + 6 = 17.
  const double differences[] = {-1, 2, -3, 4, 5, 6};
  const SignedRank result = signed_rank(differences);
  EXPECT_EQ(result.pairs, 6);
  EXPECT_EQ(result.rank_sum, 17);
  EXPECT_NEAR(*result.p, 14.0 / 64, 1e-12);  // seven ways to a sum of 4 or less, and their mirrors
}

TEST(SignedRank, AgreesWithCountingEveryWay) {
  Random random(3);
  for (int trial = 0; trial < 200; ++trial) {
    std::vector<double> differences(random.bits() % 13);
    for (double& d : differences) d = std::round(random.uniform(-4, 5));  // with zeros and ties
    const SignedRank result = signed_rank(differences);
    if (result.pairs == 0)
      EXPECT_FALSE(result.p);
    else
      EXPECT_NEAR(*result.p, counted_p(differences), 1e-12);
  }
}

TEST(SignedRank, IsContinuousWhereItChangesItsMethod) {
  Random random(8);
  std::vector<double> differences(25);
  for (double& d : differences) d = random.uniform(-1, 1.4);
  const double exact = *signed_rank(differences).p;
  differences.push_back(1e-4);  // the smallest rank hardly changes the sum
  EXPECT_NEAR(*signed_rank(differences).p, exact, 0.02);
}

TEST(SignedRank, DoesNotMindWhichTrackerIsFirst) {
  const std::vector<double> one{0.1, -0.3, 0.2, 0.25, 0.4, -0.05, 0};
  std::vector<double> other(one);
  for (double& d : other) d = -d;
  EXPECT_EQ(*signed_rank(one).p, *signed_rank(other).p);
}

TEST(HolmCorrected, IsThatOfASolvedCase) {
  const double p[] = {0.01, 0.04, 0.03, 0.005};
  const std::vector<double> corrected = holm_corrected(p);
  // By rising p: 4 x 0.005, 3 x 0.01, 2 x 0.03, then 0.04, which may not fall below what comes before it.
  for (const auto& [at, wanted] : {std::pair{3, 0.02}, {0, 0.03}, {2, 0.06}, {1, 0.06}})
    EXPECT_NEAR(corrected[at], wanted, 1e-12);
  EXPECT_EQ(holm_corrected(std::vector<double>{0.9, 0.8}), (std::vector<double>{1, 1}));
  EXPECT_TRUE(holm_corrected({}).empty());
}

TEST(RanksFromLargest, SharesRanksAmongTies) {
  const double values[] = {0.2, 0.9, 0.2, 0.5, 0.2};
  EXPECT_EQ(ranks_from_largest(values), (std::vector<double>{4, 1, 4, 2, 4}));
  EXPECT_TRUE(ranks_from_largest({}).empty());
}

TEST(MeanInterval, IsNoneForOneValueAndAPointForEqualOnes) {
  EXPECT_FALSE(mean_interval(std::vector<double>{0.4}));
  EXPECT_FALSE(mean_interval({}));
  const auto point = mean_interval(std::vector<double>(7, 0.25));
  EXPECT_NEAR(point->low, 0.25, 1e-12);
  EXPECT_NEAR(point->high, 0.25, 1e-12);
}

TEST(MeanInterval, IsTheSameEveryTime) {
  const std::vector<double> values{0.1, 0.5, 0.3, 0.9, 0.4};
  EXPECT_EQ(*mean_interval(values), *mean_interval(values));
  EXPECT_NE(*mean_interval(values), *mean_interval(values, {.key = 2}));
}

TEST(MeanInterval, HoldsTheTrueMeanInNineteenOfTwentyStudies) {
  // 40 sequences drawn anew for each study. The share of 3000 studies has a standard error of 0.4 %.
  Random random(11);
  constexpr int kStudies = 3000;
  int normal_holds = 0;
  int skew_holds = 0;
  for (int study = 0; study < kStudies; ++study) {
    std::vector<double> even(40);
    std::vector<double> skew(40);
    for (double& v : even) v = 0.6 + 0.2 * normal(random);
    for (double& v : skew) v = std::sqrt(random.uniform());  // as success areas are: many good, a few bad
    const auto holds = [&](const std::vector<double>& values, double mean) {
      const auto interval =
          mean_interval(values, {.resamples = 1000, .key = static_cast<std::uint64_t>(study)});
      return interval->low <= mean && mean <= interval->high ? 1 : 0;
    };
    normal_holds += holds(even, 0.6);
    skew_holds += holds(skew, 2.0 / 3);
  }
  for (const int held : {normal_holds, skew_holds}) {
    EXPECT_GT(held, 0.93 * kStudies);
    EXPECT_LT(held, 0.97 * kStudies);
  }
}

TEST(PairedDifference, LeavesOutSequencesThatOneLacks) {
  const std::vector<std::optional<double>> first{0.5, {}, 0.8, 0.7};
  const std::vector<std::optional<double>> second{0.4, 0.3, 0.6, {}};
  const PairedDifference result = paired_difference(first, second);
  EXPECT_EQ(result.sequences, 2);
  EXPECT_NEAR(*result.mean, 0.15, 1e-12);
  EXPECT_FALSE(result.interval);  // of two sequences nothing can be said
  EXPECT_FALSE(result.is_separated());
}

TEST(PairedDifference, TellsNothingApartWithoutEvidence) {
  const std::vector<std::optional<double>> one{0.5, 0.2, 0.9};
  EXPECT_FALSE(paired_difference(one, one).is_separated());
  const std::vector<std::optional<double>> mixed{0.4, 0.4, 0.8};
  EXPECT_FALSE(paired_difference(one, mixed).is_separated());
  EXPECT_FALSE(
      paired_difference(std::vector<std::optional<double>>{0.5}, std::vector<std::optional<double>>{0.1})
          .is_separated());
  EXPECT_FALSE(paired_difference({}, {}).mean);
}

TEST(PairedDifference, TellsNothingApartFromFewerThanSixSequences) {
  const auto told = [](int count) {
    const std::vector<Figure> high(static_cast<std::size_t>(count), 0.9);
    const std::vector<Figure> low(static_cast<std::size_t>(count), 0.1);
    return paired_difference(high, low).is_separated();
  };
  EXPECT_FALSE(told(1));
  EXPECT_FALSE(told(5));
  EXPECT_TRUE(told(6));
}

TEST(BootstrapInterval, HoldsForAnyFigureEvenAnInfiniteOne) {
  const std::vector<double> values{1, 2, 3, 4, 5, 6, 7, 8};
  const auto largest = bootstrap_interval(values.size(), [&](std::span<const std::size_t> drawn) {
    double most = 0;
    for (const std::size_t place : drawn) most = std::max(most, values[place]);
    return most;
  });
  EXPECT_EQ(largest->high, 8);
  EXPECT_GE(largest->low, 5);  // all eight draws below 5 are 1 in 256
  const auto endless = bootstrap_interval(3, [](std::span<const std::size_t> drawn) {
    return drawn[0] == 0 ? 1.0 : std::numeric_limits<double>::infinity();
  });
  EXPECT_EQ(endless->low, 1);
  EXPECT_TRUE(std::isinf(endless->high));
  EXPECT_FALSE(bootstrap_interval(1, [](std::span<const std::size_t>) { return 0.0; }));
}

}  // namespace mnemon
