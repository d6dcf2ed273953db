// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/cell_samples.hpp>

#include <algorithm>

#include <gtest/gtest.h>

#include <mnemon/image/bilinear.hpp>

#include "track/mask/patch_at_pose.hpp"

namespace mnemon {
namespace {

class CellSamplesAtPoses : public test::PatchAtPose {};

}  // namespace

TEST_P(CellSamplesAtPoses, SampleWhatLiesBetweenTheCellsOfAPatch) {
  int outside = 0;
  for_each_cell([&](int r, int c) {
    const Point at = cell_at(r, c);
    const Point pixel = patch_.place_at(at);
    const bool in_picture = pixel.x >= 0 && pixel.y >= 0 && pixel.x < 220 && pixel.y < 160;
    EXPECT_EQ(seen_.in_picture()(r, c), in_picture ? 1 : 0) << r << " " << c;
    // Between middles of pixels of both the picture and the patch.
    const bool between = pixel.x >= std::max(0.5, patch_.left() + 0.5) &&
                         pixel.y >= std::max(0.5, patch_.top() + 0.5) &&
                         pixel.x < std::min(219.5, patch_.left() + patch_.cols() - 0.5) &&
                         pixel.y < std::min(159.5, patch_.top() + patch_.rows() - 0.5);
    EXPECT_EQ(seen_.taken()(r, c), between ? 1 : 0) << r << " " << c;
    outside += between ? 0 : 1;
    if (!between) return;
    for (int k = 0; k < kPatchChannels; ++k)
      EXPECT_NEAR(seen_.channel(k)(r, c), sampled(patch_.plane(k), at.x + 0.5, at.y + 0.5), 1e-3);
  });
  EXPECT_EQ(outside > 0, GetParam().middle.x < 50);
}

INSTANTIATE_TEST_SUITE_P(Poses, CellSamplesAtPoses, ::testing::ValuesIn(test::kPoses));

}  // namespace mnemon
