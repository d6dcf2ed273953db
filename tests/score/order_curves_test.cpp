// SPDX-License-Identifier: MIT
#include <cmath>
#include <limits>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/score/curves.hpp>
#include <mnemon/score/order.hpp>

namespace mnemon {
namespace {

std::vector<double> random_overlaps(int count, std::uint64_t key) {
  Random random(key);
  std::vector<double> overlaps(count);
  // A third lie on thresholds or a rounding away from one.
  for (double& o : overlaps)
    o = random.bits() % 3 == 0
            ? static_cast<double>(random.bits() % 101) / 100 + random.uniform(-1, 1) * 5e-10
            : random.uniform();
  return overlaps;
}

}  // namespace

TEST(Percentile, InterpolatesBetweenOrderStatistics) {
  const std::vector<double> values{40, 10, 30, 20};
  EXPECT_EQ(percentile(values, 0), 10);
  EXPECT_EQ(percentile(values, 1), 40);
  EXPECT_DOUBLE_EQ(*percentile(values, 0.5), 25);
  EXPECT_DOUBLE_EQ(*percentile(values, 0.95), 38.5);
  EXPECT_EQ(median(std::vector<double>{3, 1, 2}), 2);
}

TEST(Figures, AreNullWithoutAnything) {
  EXPECT_FALSE(mean({}));
  EXPECT_FALSE(median({}));
  EXPECT_FALSE(ratio(0, 0));
  EXPECT_FALSE(area({}));
  EXPECT_TRUE(overlap_curve({}).empty());
  EXPECT_FALSE(at_step({}, 50));
  EXPECT_FALSE(mean_of_known(std::vector<Figure>{{}, {}}).mean);
}

TEST(MeanOfKnown, LeavesNullsOut) {
  const KnownMean mean = mean_of_known(std::vector<Figure>{1, {}, 4});
  EXPECT_EQ(mean.mean, 2.5);
  EXPECT_EQ(mean.count, 2);
}

TEST(OverlapCurve, OfAPerfectTraceMissesOnlyTheLastThreshold) {
  const std::vector<double> perfect(7, 1.0);
  const auto curve = overlap_curve(perfect);
  ASSERT_EQ(curve.size(), 101U);
  EXPECT_EQ(curve[99], 1);
  EXPECT_EQ(curve[100], 0);
  EXPECT_DOUBLE_EQ(*area(curve), 100.0 / 101);
}

TEST(OverlapCurve, AgreesWithCounting) {
  for (const int count : {1, 2, 17, 500}) {
    const auto overlaps = random_overlaps(count, count);
    const auto curve = overlap_curve(overlaps);
    for (int k = 0; k <= 100; ++k) {
      int above = 0;
      for (const double o : overlaps) above += o - k / 100.0 > 1e-9 ? 1 : 0;
      EXPECT_NEAR(curve[k], static_cast<double>(above) / count, 1e-12) << k;
    }
  }
}

// For one frame the 101 steps count ceil(100 o) of 101, at most 1/101 from its overlap o, whose integral over all
// thresholds is o.
TEST(OverlapCurve, HasAnAreaWithinAGridStepOfTheMeanOverlap) {
  Random random(7);
  std::vector<double> overlaps(500);
  for (double& o : overlaps) o = random.uniform();
  EXPECT_NEAR(*area(overlap_curve(overlaps)), *mean(overlaps), 1.0 / 101 + 1e-12);
}

TEST(CentreCurves, AgreeWithCounting) {
  Random random(5);
  std::vector<double> errors(300);
  for (double& e : errors) {
    const auto kind = random.bits() % 4;
    e = kind == 0   ? std::numeric_limits<double>::infinity()
        : kind == 1 ? double(random.bits() % 51)
                    : random.uniform(0, 60);
  }
  std::vector<double> relative = errors;
  for (double& e : relative) e /= 100;
  const auto curve = centre_curve(errors);
  const auto small = relative_centre_curve(relative);
  ASSERT_EQ(curve.size(), 51U);
  ASSERT_EQ(small.size(), 101U);
  for (int k = 0; k <= 100; ++k) {
    int within = 0;
    int small_within = 0;
    for (int i = 0; i < 300; ++i) {
      within += errors[i] - k <= 1e-9 ? 1 : 0;
      small_within += relative[i] - k / 200.0 <= 1e-9 ? 1 : 0;
    }
    if (k <= 50) {
      EXPECT_NEAR(curve[k], within / 300.0, 1e-12);
    }
    EXPECT_NEAR(small[k], small_within / 300.0, 1e-12);
  }
}

TEST(Thresholds, CountWhatIsWithinRoundingAsEqual) {
  EXPECT_FALSE(exceeds(0.5 + 9e-10, 0.5));
  EXPECT_TRUE(exceeds(0.5 + 2e-9, 0.5));
  EXPECT_TRUE(reaches(0.5 - 9e-10, 0.5));
  EXPECT_FALSE(reaches(0.5 - 2e-9, 0.5));
}

}  // namespace mnemon
