// SPDX-License-Identifier: MIT
#include <mnemon/track/marked_margins.hpp>

#include <gtest/gtest.h>

#include "support/near_box.hpp"

namespace mnemon {
namespace {

constexpr Box kMask{20, 30, 40, 20};

}  // namespace

TEST(MarkedMargins, OfNothingAreNone) { test::expect_near(MarkedMargins().around(kMask), kMask); }

TEST(MarkedMargins, GrowWithTheMask) {
  const Box marked{18, 25, 46, 26};  // 2 and 4 px beside it, 5 above and 1 below
  const MarkedMargins margins(marked, kMask);
  test::expect_near(margins.around(kMask), marked);
  test::expect_near(margins.around({100, 100, 80, 40}), {96, 90, 92, 52});
}

// Four hundredths of a side are usual; what is further off is drawn in, the more surely the colours tell the mask.
TEST(MarkedMargins, AreDrawnInWhereColoursTellTheMask) {
  const Box marked{14, 30, 46, 20};  // 0.15 of the mask's width too far to the left
  MarkedMargins unsure(marked, kMask);
  unsure.refit(0.3);
  test::expect_near(unsure.around(kMask), marked);
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
  test::expect_near(margins.around(kMask), marked);
}

}  // namespace mnemon
