// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/patch_window.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <gtest/gtest.h>

namespace mnemon {
TEST(PatchWindow, AddsTheSameAcrossAndDown) {
  for (const auto& [w, h] :
       {std::pair{50.0, 50.0}, {100.0, 20.0}, {20.0, 100.0}, {8.0, 8.0}, {400.0, 300.0}}) {
    const PatchWindow window(w, h, {2.5, 10, 32, 4});
    EXPECT_NEAR(window.width_px() - w, 1.5 * std::sqrt(w * h) + 10, 1e-9);
    EXPECT_NEAR(window.height_px() - h, window.width_px() - w, 1e-9);
    EXPECT_NEAR(window.target_share().x, w / window.width_px(), 1e-12);
    EXPECT_LE(std::max(window.rows(), window.cols()), 64);
    EXPECT_GE(std::min(window.rows(), window.cols()), 16);
    EXPECT_NEAR(centre(window.around({10, 20}, 1.5).box).x, 10, 1e-12);
    EXPECT_NEAR(window.around({10, 20}, 1.5).box.w, 1.5 * window.width_px(), 1e-9);
  }
}

TEST(PatchWindow, TurnsPeaksIntoMotion) {
  const PatchWindow window(64, 64, {2, 0, 64, 1});  // a cell is two pixels
  const Cell rest = window.middle_cell();
  EXPECT_EQ(window.motion(rest, {0, 0}), (Point{0, 0}));
  const Point motion = window.motion({rest.row - 3, rest.col + 2}, {0.25, -0.5});
  EXPECT_NEAR(motion.x, 4.5, 1e-12);
  EXPECT_NEAR(motion.y, -7, 1e-12);
  EXPECT_NEAR(window.motion({rest.row - 3, rest.col}, {0, 0}, 2).y, -12, 1e-12);
}

}  // namespace mnemon
