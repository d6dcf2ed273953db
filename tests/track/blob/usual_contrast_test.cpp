// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/usual_contrast.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(UsualContrast, OfNothingKnownTakesTheMiddleForNeutral) {
  EXPECT_EQ(UsualContrast().neutral(), 0.5);
  EXPECT_EQ(UsualContrast().value(), 0);
}

TEST(UsualContrast, IsNeutralMidwayBetweenTargetAndSurroundings) {
  const UsualContrast usual(0.6, 0.8);  // 0.8 in the target, 0.2 around it
  EXPECT_DOUBLE_EQ(usual.value(), 0.6);
  EXPECT_DOUBLE_EQ(usual.neutral(), 0.5);
}

TEST(UsualContrast, IsNeverNothing) { EXPECT_GT(UsualContrast(-0.2, 0.3).value(), 0); }

TEST(UsualContrast, FollowsToHalfOfTheSeedsAtTheLeast) {
  UsualContrast usual(0.6, 0.8);
  for (int i = 0; i < 500; ++i) usual.take(0.4, 0.7);
  EXPECT_NEAR(usual.value(), 0.4, 1e-6);
  EXPECT_NEAR(usual.neutral(), 0.5, 1e-6);
  for (int i = 0; i < 500; ++i) usual.take(0.1, 0.7);
  EXPECT_NEAR(usual.value(), 0.3, 1e-6);
}

}  // namespace mnemon
