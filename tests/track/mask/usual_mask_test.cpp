// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/usual_mask.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(UsualMask, KnowsTheSizeOfTheSeedAtAnyScale) {
  const UsualMask usual(0.4, 500);
  EXPECT_EQ(usual.sized(500, 1, 1), 1);
  EXPECT_EQ(usual.sized(2000, 1, 2), 1);
  EXPECT_DOUBLE_EQ(usual.sized(250, 1, 1), 0.5);
  EXPECT_DOUBLE_EQ(usual.sized(1000, 1, 1), 0.5);
  EXPECT_EQ(usual.sized(250, 0.5, 1), 1) << "half of it is hidden";
  EXPECT_EQ(usual.sized(0, 1, 1), 0);
  EXPECT_DOUBLE_EQ(usual.scale_of(2000), 2);
}

TEST(UsualMask, IsNeverOfNoContrast) {
  EXPECT_GT(UsualMask(0, 500).contrast(), 0);
  UsualMask usual(0.4, 500);
  for (int i = 0; i < 1000; ++i) usual.take(1, -1, 500, 1, 1);
  EXPECT_GT(usual.contrast(), 0);
}

// A mask of half of the target, twice as large as the seed: it still takes the whole area at the seed's scale.
TEST(UsualMask, FollowsWhatIsSeen) {
  UsualMask usual(0.4, 500);
  EXPECT_EQ(usual.likeness(), 1);
  for (int i = 0; i < 1000; ++i) usual.take(0.8, 0.3, 1200, 0.5, 2);
  EXPECT_NEAR(usual.likeness(), 0.8, 1e-9);
  EXPECT_NEAR(usual.contrast(), 0.3, 1e-9);
  EXPECT_NEAR(usual.sized(600, 1, 1), 1, 1e-9);
}

}  // namespace mnemon
