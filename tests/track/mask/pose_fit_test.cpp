// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/pose_fit.hpp>

#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include <mnemon/track/mask/mask_target.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::frame_of;

}  // namespace

// A target that has moved, grown, turned and stretched all at once: the fit has to find each.
TEST(PoseFit, FindsPlaceSizeTurnAndStretch) {
  const Ellipse first{{110, 80}, 34, 26, 0};
  const Ellipse second{{110 + 13.4, 80 - 8.7}, 34 * 1.06 * std::exp(0.04), 26 * 1.06 * std::exp(-0.04), 8};
  const Image<Byte> before = test::picture_of({{first}}, 1);
  const Image<Byte> after = test::picture_of({{second}}, 2);
  MaskTarget target;
  const Box box = test::box_around_drawn(first);
  (void)target.start(frame_of(before, 0), box, box, {});
  const MaskSighting seen = target.look(frame_of(after, 1), {centre(box), 1, 0, 0});
  EXPECT_NEAR(seen.pose.middle.x, second.middle.x, 1);
  EXPECT_NEAR(seen.pose.middle.y, second.middle.y, 1);
  EXPECT_NEAR(seen.pose.scale, 1.06, 0.02);
  EXPECT_NEAR(seen.pose.turn, 8 * std::numbers::pi / 180, 0.03);
  EXPECT_NEAR(seen.pose.stretch, 0.04, 0.02);
}

}  // namespace mnemon
