// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/filter_follower.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/track/corr/patch_window.hpp>

#include "track/expectations.hpp"

namespace mnemon {
// A thing of the target's colours that is a little like it.
TEST(FilterFollower, TurnsFromWhatItTookForALostTargetToTheTarget) {
  const test::Tint tint{1, 0.55, 0.1};
  const Image<Byte> target = test::blocks(40, 40, 2, tint);
  Image<Byte> other = test::blocks(40, 40, 3, tint);
  for (int r = 0; r < other.rows(); ++r)
    for (int c = 0; c < other.cols(); ++c)
      for (int k = 0; k < 3; ++k)
        other(r, c, k) = static_cast<Byte>(0.35 * target(r, c, k) + 0.65 * other(r, c, k));
  test::expect_to_turn_back("corr-kernel", target, other, 54);
}

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
