// SPDX-License-Identifier: MIT
#include <mnemon/track/hold/forecast.hpp>

#include <gtest/gtest.h>

namespace mnemon {
TEST(Forecast, KeepsAQuarterOfTheTargetInView) {
  const FrameSize size{200, 100};
  for (const Point place : {Point{100, 50}, {-9.9, 104}, {209, -4.9}})
    EXPECT_EQ(kept_in_view(place, 40, 20, size), place);
  EXPECT_EQ(kept_in_view({-30, 130}, 40, 20, size), (Point{-10, 105}));
  Forecast motion(size);
  for (int i = 0; i < 30; ++i) motion.found({150.0 + i, 50}, {151.0 + i, 50});
  EXPECT_NEAR(motion.of({180, 50}, 40, 20).x, 181, 1e-3);
  EXPECT_EQ(motion.of({210, 50}, 40, 20).x, 210);
}

}  // namespace mnemon
