// SPDX-License-Identifier: MIT
#include <mnemon/track/region.hpp>

#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

constexpr FrameSize kSize{40, 30};

std::string refusal(const Region& region) {
  return test::message_of<CallError>([&] { (void)enclosing_box(region, kSize); });
}

}  // namespace

TEST(EnclosingBox, OfEachForm) {
  EXPECT_EQ(enclosing_box(Box{1, 2, 3, 4}, kSize), (Box{1, 2, 3, 4}));
  const Box turned = enclosing_box(OrientedBox{{10, 10, 8, 4}, 90}, kSize);
  EXPECT_NEAR(turned.x, 12, 1e-12);
  EXPECT_NEAR(turned.h, 8, 1e-12);
  EXPECT_EQ(enclosing_box(Polygon{{1, 1}, {5, 2}, {3, 9}}, kSize), (Box{1, 1, 4, 8}));
  EXPECT_EQ(enclosing_box(PointMarks{{{4, 5}, {6, 9}}, {{0, 0}}}, kSize), (Box{4, 5, 2, 4}));
  Image<Byte> mask(30, 40);
  mask(3, 7) = mask(10, 5) = 1;
  EXPECT_EQ(enclosing_box(std::as_const(mask).view(), kSize), (Box{5, 3, 3, 8}));
}

TEST(EnclosingBox, RefusesWhatHasNoArea) {
  test::expect_parts(refusal(Box{1, 1, 0, 5}), {"no area"});
  test::expect_parts(refusal(OrientedBox{{1, 1, -2, 5}, 30}), {"no area"});
  test::expect_parts(refusal(Polygon{{1, 1}, {2, 1}}), {"no area"});
  test::expect_parts(refusal(PointMarks{}), {"no area"});
  const Image<Byte> empty(30, 40);
  test::expect_parts(refusal(empty.view()), {"no pixel"});
}

TEST(EnclosingBox, RefusesWhatLiesOutside) {
  test::expect_parts(refusal(Box{40, 1, 5, 5}), {"40,1,5,5", "outside", "40 x 30"});
  test::expect_parts(refusal(Box{-9, 1, 5, 5}), {"outside"});
}

TEST(EnclosingBox, RefusesWhatIsFarTooLarge) {
  test::expect_parts(test::message_of<CallError>([] {
                       (void)enclosing_box(Box{-1e5, 0, 2e5, 10}, {64, 48});
                     }),
                     {"is too large for a picture of 64 x 48", "256 px"});
  EXPECT_EQ(enclosing_box(Box{-90, -90, 250, 250}, {64, 48}).w, 250);
}

TEST(EnclosingBox, RefusesAMaskOfAnotherSize) {
  const Image<Byte> mask(30, 41);
  test::expect_parts(refusal(mask.view()), {"41 x 30", "40 x 30"});
}

}  // namespace mnemon
