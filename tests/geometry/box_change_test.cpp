// SPDX-License-Identifier: MIT
#include <mnemon/geometry/box_change.hpp>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

TEST(BoxChange, TakesAShiftAndAGrowthAlong) {
  const BoxChange change({10, 20, 40, 20},
                         {110, 50, 80, 40});  // middles (30, 30) and (150, 70), twice as long
  EXPECT_EQ(change.growth(), 2);
  EXPECT_EQ(change.of(Point{30, 30}), (Point{150, 70}));
  EXPECT_EQ(change.of(Point{35, 28}), (Point{160, 66}));
  EXPECT_EQ(change.of(Box{30, 30, 10, 6}), (Box{150, 70, 20, 12}));
}

TEST(BoxChange, GrowsBothSidesAlikeWhereTheShapeChanges) {
  const Box to{0, 0, 80, 20};
  const BoxChange change({0, 0, 20, 20}, to);  // four times the area
  EXPECT_EQ(change.growth(), 2);
  EXPECT_EQ(change.of(Box{0, 0, 20, 20}), box_around(centre(to), 40, 40));
}

TEST(BoxChange, OfABoxToItselfLeavesAllInPlace) {
  const Box box{3, 5, 7, 11};
  const Box other{-20, 40, 3, 9};
  EXPECT_EQ(BoxChange(box, box).of(other), other);
}

}  // namespace
}  // namespace mnemon
