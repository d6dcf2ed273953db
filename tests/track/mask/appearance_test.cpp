// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/appearance.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/image/bilinear.hpp>

#include "track/mask/patch_at_pose.hpp"

namespace mnemon {
namespace {

class AppearanceAtPoses : public test::PatchAtPose {};

}  // namespace

// Each cell by itself, between cells of the patch; beyond its picture nothing of what was known is lost.
TEST_P(AppearanceAtPoses, LearnWhatAPatchShows) {
  constexpr float kShapeRate = 0.2f;
  Random random(4);
  Image<Byte> labels(patch_.rows(), patch_.cols());
  for (Byte& label : labels.elements()) label = static_cast<Byte>(random.uniform() < 0.5);
  const Box box = test::box_around_drawn(test::kDrawnEllipse);
  for (const float rate :
       {0.3f, 1.0f}) {  // at a rate of 1 also what is not the target, and the edge of the picture beyond it
    const bool anew = rate == 1;
    Appearance learnt(box.w, box.h);
    learnt.copy_from(known());
    learnt.learn(seen_, patch_, labels.view(), GetParam(), rate, kShapeRate, &visible_);
    int compared = 0;
    for_each_cell([&](int r, int c) {
      const Point at = cell_at(r, c);
      const bool in_patch =
          at.x > -0.5 && at.y > -0.5 && at.x < patch_.cols() - 0.5 && at.y < patch_.rows() - 0.5;
      const int row = static_cast<int>(at.y + 0.5);
      const int col = static_cast<int>(at.x + 0.5);
      const bool stays = visible_(r, c) < 0.5f || (in_patch && !anew && !patch_.is_inside(row, col));
      const float is_target = in_patch ? labels(row, col) : 0;
      const float shape = known().shape()(r, c);
      EXPECT_NEAR(learnt.shape()(r, c), stays ? shape : shape + kShapeRate * (is_target - shape), 1e-6);
      for (int k = 0; k < kPatchChannels; ++k) {
        const float was = known().channel(k)(r, c);
        const bool learns = !stays && in_patch && (is_target != 0 || anew || k == kLikelihood);
        const float now = learns ? sampled(patch_.plane(k), at.x + 0.5, at.y + 0.5) : was;
        ASSERT_NEAR(learnt.channel(k)(r, c), was + rate * (now - was), 2e-3) << r << " " << c << " " << k;
        compared += learns ? 1 : 0;
      }
    });
    EXPECT_GT(compared, 500);
  }
}

INSTANTIATE_TEST_SUITE_P(Poses, AppearanceAtPoses, ::testing::ValuesIn(test::kPoses));

}  // namespace mnemon
