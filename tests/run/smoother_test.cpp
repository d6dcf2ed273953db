// SPDX-License-Identifier: MIT
#include <mnemon/run/smoother.hpp>

#include <cmath>

#include <gtest/gtest.h>

namespace mnemon {
// What moves at a constant rate is followed at that rate, late by the time that is smoothed over.
TEST(Smoother, LagsByItsTime) {
  Smoother smoother(0.5);
  OrientedBox box;
  for (int i = 0; i <= 1000; ++i) box = smoother.take({{3.0 * i, 10, 20, 20}, 0}, i / 100.0);
  // 300 px/s for 0.5 s; as steps are of a hundredth of a second, half a step less.
  EXPECT_NEAR(3000 - box.box.x, 150 - 1.5, 0.01);
  EXPECT_NEAR(box.box.y, 10, 1e-9);
  EXPECT_NEAR(box.box.w, 20, 1e-9);
}

TEST(Smoother, TakesTheShorterWayRoundAndAllAtOnceWithoutATime) {
  Smoother smoother(1);
  smoother.start({{0, 0, 10, 10}, 80}, 0);
  const double turned = smoother.take({{0, 0, 10, 10}, -80}, 1).angle_deg;  // 20 degrees further
  EXPECT_NEAR(turned, 80 + 20 * (1 - std::exp(-1)), 1e-9);
  Smoother none;
  none.start({{0, 0, 10, 10}, 0}, 0);
  EXPECT_EQ(none.take({{5, 5, 7, 7}, 3}, 1), (OrientedBox{{5, 5, 7, 7}, 3}));
}

}  // namespace mnemon
