// SPDX-License-Identifier: MIT
#include <mnemon/track/region_weight.hpp>

#include <gtest/gtest.h>

namespace mnemon {
TEST(RegionWeight, FollowsEachFormOfRegion) {
  const Polygon triangle{{0, 0}, {20, 0}, {0, 20}};
  const Ellipse ellipse = ellipse_of(Region(triangle), bounds(triangle));
  EXPECT_EQ(weight_in(triangle, ellipse, {4, 4}), 1);
  EXPECT_EQ(weight_in(triangle, ellipse, {16, 16}), 0);
  Image<Byte> mask(20, 20);
  mask(3, 5) = 1;
  EXPECT_EQ(weight_in(std::as_const(mask).view(), ellipse, {5.5, 3.5}), 1);
  EXPECT_EQ(weight_in(std::as_const(mask).view(), ellipse, {6.5, 3.5}), 0);
  EXPECT_EQ(weight_in(std::as_const(mask).view(), ellipse, {-3, 50}), 0);
  EXPECT_EQ(weight_in(Box{0, 0, 20, 20}, ellipse, {10, 10}), 1);
  EXPECT_EQ(weight_in(Box{0, 0, 20, 20}, ellipse, {20, 10}), 0);
  const OrientedBox turned{{0, 5, 20, 10}, 90};
  EXPECT_NEAR(weight_in(turned, ellipse_of(turned, {5, 0, 10, 20}), {10, 18}), 1 - 0.64, 1e-9);
}

}  // namespace mnemon
