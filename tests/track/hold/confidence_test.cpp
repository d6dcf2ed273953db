// SPDX-License-Identifier: MIT
#include <mnemon/track/hold/confidence.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Confidence, IsHalfAtItsHalf) {
  for (const double half : {0.2, 0.5, 0.9}) EXPECT_DOUBLE_EQ(confidence_of(half, half, 3), 0.5);
}

TEST(Confidence, RisesWithTheShareAndTheMoreSteeply) {
  double before = 0;
  for (double share = 0.05; share < 2; share += 0.05) {
    const double now = confidence_of(share, 0.5, 4);
    EXPECT_GT(now, before) << share;
    EXPECT_LT(now, 1);
    before = now;
  }
  EXPECT_GT(confidence_of(0.8, 0.5, 6), confidence_of(0.8, 0.5, 3));
  EXPECT_LT(confidence_of(0.3, 0.5, 6), confidence_of(0.3, 0.5, 3));
}

// As far above the half by ratio as below it is as sure as it is unsure.
TEST(Confidence, IsEvenInTheLogarithm) {
  EXPECT_NEAR(confidence_of(0.5 * 1.7, 0.5, 4) + confidence_of(0.5 / 1.7, 0.5, 4), 1, 1e-12);
}

TEST(Confidence, IsNothingOfNothing) {
  EXPECT_EQ(confidence_of(0, 0.5, 4), 0);
  EXPECT_EQ(confidence_of(-0.3, 0.5, 4), 0);
}

}  // namespace mnemon
