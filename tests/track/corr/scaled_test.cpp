// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/scaled.hpp>

#include <gtest/gtest.h>

#include <mnemon/scene/scene.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
TEST(CorrScaled, FollowsTheSizeOfAKiteThatClimbs) {
  const Scene scene(demo_scene("climb"), {{"frames", 60}}, 24);
  CorrScaled tracker{CorrScaledParams{}};
  for (int i = 0; i < 60; ++i) {
    const Image<Byte> picture = scene.render(i);
    const Box& truth = scene.truth().rows[i].box.box;
    const Estimate estimate =
        i == 0 ? tracker.seed({picture.view(), 0, 0}, truth) : tracker.follow({picture.view(), i, 0});
    EXPECT_GT(overlap(estimate.box.box, truth), 0.6) << i;
  }
}

}  // namespace mnemon
