// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/target_pose.hpp>

#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

namespace mnemon {
TEST(TargetPose, MapsThereAndBack) {
  const TargetPose pose{{40, 30}, 1.7, 0.6, -0.2};
  for (const Point at : {Point{0, 0}, {5, -3}, {-20, 11}}) {
    const Point there = pose.place_of(at);
    EXPECT_NEAR(pose.about_middle(there).x, at.x, 1e-12);
    EXPECT_NEAR(pose.about_middle(there).y, at.y, 1e-12);
  }
  // A quarter turn clockwise as seen on the screen takes x to y.
  const Point turned = TargetPose{{0, 0}, 2, std::numbers::pi / 2, 0}.place_of({1, 0});
  EXPECT_NEAR(turned.x, 0, 1e-12);
  EXPECT_NEAR(turned.y, 2, 1e-12);
}

TEST(TargetPose, IsAsFarFromAnotherAsACornerOfItsBox) {
  const TargetPose pose{{50, 40}, 1.2, 0.3, 0.1};
  EXPECT_EQ(pose.farthest_from(pose, 20, 10), 0);
  TargetPose other = pose;
  other.middle = {53, 44};
  EXPECT_NEAR(pose.farthest_from(other, 20, 10), 5, 1e-9);
  other = pose;
  other.scale *= 1.5;
  const double corner = std::hypot(20 * pose.scale_x(), 10 * pose.scale_y());
  EXPECT_NEAR(pose.farthest_from(other, 20, 10), 0.5 * corner, 1e-9);
  other = pose;
  other.turn += 0.4;
  EXPECT_NEAR(other.farthest_from(pose, 20, 10), 2 * std::sin(0.2) * corner, 1e-9);
}

}  // namespace mnemon
