// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/filter_follower.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/track/corr/patch_window.hpp>

namespace mnemon {
TEST(FilterFollower, NeverNeedsMoreThanTwoFramesOfWindow) {
  const FrameSize frame{640, 360};
  for (const Box& target : {Box{0, 0, 1, 1}, Box{0, 0, 12, 60}, Box{0, 0, 60, 50}, Box{0, 0, 600, 340}}) {
    const PatchWindow window(target.w, target.h, {3, 12, 32, 4});
    const double most = FilterFollower::most_scale(frame, target, window);
    EXPECT_GE(most, 1);
    EXPECT_LE(most * window.width_px(), std::max(1280.0, window.width_px()));
    EXPECT_LE(most * window.height_px(), std::max(720.0, window.height_px()));
  }
}

}  // namespace mnemon
