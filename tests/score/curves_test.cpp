// SPDX-License-Identifier: MIT
#include <mnemon/score/curves.hpp>

#include <limits>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

constexpr double kNotFound = std::numeric_limits<double>::infinity();

}  // namespace

TEST(OverlapCurve, IsTheShareOfFramesAboveEachThreshold) {
  const std::vector<double> curve = overlap_curve(std::vector{0.0, 0.25, 0.5, 1.0});
  ASSERT_EQ(curve.size(), 101U);
  EXPECT_EQ(curve[0], 0.75);  // a frame without overlap is above none
  EXPECT_EQ(curve[24], 0.75);
  EXPECT_EQ(curve[25], 0.5);  // no more than is not above
  EXPECT_EQ(curve[50], 0.25);
  EXPECT_EQ(curve[99], 0.25);
  EXPECT_EQ(curve[100], 0);
}

TEST(CentreCurve, IsTheShareOfFramesWithinEachThreshold) {
  const std::vector<double> curve = centre_curve(std::vector{0.0, 3.0, 3.5, kNotFound});
  ASSERT_EQ(curve.size(), 51U);
  EXPECT_EQ(curve[0], 0.25);
  EXPECT_EQ(curve[3], 0.5);
  EXPECT_EQ(curve[4], 0.75);
  EXPECT_EQ(curve[50], 0.75);
}

TEST(RelativeCentreCurve, GoesToHalfInSteps) {
  const std::vector<double> curve = relative_centre_curve(std::vector{0.1, 0.5, 0.6, kNotFound});
  ASSERT_EQ(curve.size(), 101U);
  EXPECT_EQ(curve[19], 0);
  EXPECT_EQ(curve[20], 0.25);
  EXPECT_EQ(curve[100], 0.5);
}

// The area under the curve of overlaps is their mean, but for the step of its thresholds.
TEST(OverlapCurve, HasTheMeanOverlapForItsArea) {
  Random random(4);
  std::vector<double> overlaps;
  double sum = 0;
  for (int i = 0; i < 500; ++i) sum += overlaps.emplace_back(random.uniform(0, 1));
  EXPECT_NEAR(area(overlap_curve(overlaps)).value(), sum / 500, 0.01);
}

TEST(Curves, OfNoFramesAreEmpty) {
  EXPECT_TRUE(overlap_curve({}).empty());
  EXPECT_TRUE(centre_curve({}).empty());
  EXPECT_FALSE(area({}).has_value());
  EXPECT_FALSE(at_step({}, 20).has_value());
  EXPECT_EQ(at_step(std::vector{0.1, 0.2}, 1), 0.2);
}

}  // namespace mnemon
