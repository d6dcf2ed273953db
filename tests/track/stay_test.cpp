// SPDX-License-Identifier: MIT
#include <mnemon/track/stay.hpp>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"

namespace mnemon {

TEST(Stay, NeverMovesAndIsAlwaysSure) {
  Stay tracker{StayParams{}};
  const Box marked{30, 20, 40, 25};
  for (int i = 0; i < 5; ++i) {
    const Image<Byte> picture = test::picture_of({}, 1 + i);
    const Frame frame = test::frame_of(picture, i);
    const Estimate estimate = i == 0 ? tracker.seed(frame, marked) : tracker.follow(frame);
    EXPECT_EQ(estimate.box, (OrientedBox{marked, 0}));
    EXPECT_EQ(estimate.confidence, 1);
    EXPECT_TRUE(estimate.present);
  }
}

}  // namespace mnemon
