// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/marked_margins.hpp>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

constexpr Box kMask{20, 30, 40, 20};

void expect_like(const Box& one, const Box& other) {
  EXPECT_NEAR(one.x, other.x, 1e-9);
  EXPECT_NEAR(one.y, other.y, 1e-9);
  EXPECT_NEAR(one.w, other.w, 1e-9);
  EXPECT_NEAR(one.h, other.h, 1e-9);
}

}  // namespace

TEST(MarkedMargins, OfNothingAreNone) { expect_like(MarkedMargins().around(kMask), kMask); }

TEST(MarkedMargins, GrowWithTheMask) {
  const Box marked{18, 25, 46, 26};  // 2 and 4 px beside it, 5 above and 1 below
  const MarkedMargins margins(marked, kMask);
  expect_like(margins.around(kMask), marked);
  expect_like(margins.around({100, 100, 80, 40}), {96, 90, 92, 52});
}

// Four hundredths of a side are usual; what is further off is drawn in, the more surely the colours tell the mask.
TEST(MarkedMargins, AreDrawnInWhereColoursTellTheMask) {
  const Box marked{14, 30, 46, 20};  // 0.15 of the mask's width too far to the left
  MarkedMargins unsure(marked, kMask);
  unsure.refit(0.3);
  expect_like(unsure.around(kMask), marked);
  MarkedMargins half(marked, kMask);
  half.refit(0.45);
  EXPECT_NEAR(half.around(kMask).x, 20 - 40 * 0.5 * (0.15 + 0.04), 1e-9);
  MarkedMargins sure(marked, kMask);
  sure.refit(0.9);
  EXPECT_NEAR(sure.around(kMask).x, 20 - 40 * 0.04, 1e-9);
  EXPECT_NEAR(sure.around(kMask).y, 30, 1e-9);
}

TEST(MarkedMargins, StayWhereTheMaskHasMissedAPart) {
  const Box marked{0, 30, 60, 20};  // half the mask's width further left: no marked box is so far off
  MarkedMargins margins(marked, kMask);
  margins.refit(0.9);
  expect_like(margins.around(kMask), marked);
}

}  // namespace mnemon
