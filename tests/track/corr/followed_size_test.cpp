// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/followed_size.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(FollowedSize, KeepsBetweenFivePixelsAndTheLargest) {
  const FollowedSize size(40, 20, 3);
  EXPECT_EQ(size.allowed(1.7), 1.7);
  EXPECT_EQ(size.allowed(8), 3);
  EXPECT_EQ(size.h(size.allowed(0.01)), 5);
  // A target that is smaller when it is marked never gets smaller than that.
  EXPECT_EQ(FollowedSize(4, 9, 3).allowed(0.2), 1);
}

TEST(FollowedSize, PutsBoxesAroundItsMiddle) {
  const FollowedSize size(40, 20, 3);
  const Box upright = size.upright({{100, 50}, 1.5, 30});
  EXPECT_EQ(upright, (Box{70, 35, 60, 30}));
  EXPECT_EQ(size.around({{100, 50}, 1.5, 0}), upright);
  const Box quarter = size.around({{100, 50}, 1.5, 90});
  EXPECT_NEAR(quarter.w, 30, 1e-9);
  EXPECT_NEAR(quarter.h, 60, 1e-9);
  EXPECT_NEAR(quarter.x, 85, 1e-9);
}

}  // namespace mnemon
