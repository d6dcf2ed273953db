// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/plain.hpp>

#include <gtest/gtest.h>

#include <mnemon/scene/scene.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
TEST(CorrPlain, SaysThatTheTargetIsGoneAndFindsItAgain) {
  // The scenario's own flight. On some others the bank comes over the kite so slowly that the filter learns it.
  const Scene scene(demo_scene("cloudbank"), {}, 1);
  CorrPlain tracker{CorrPlainParams{}};
  int told = 0;
  double last = 0;
  for (int i = 0; i < 150; ++i) {
    const Image<Byte> picture = scene.render(i);
    const Frame frame{picture.view(), i, i / 30.0};
    const TruthRow& truth = scene.truth().rows[i];
    const Estimate estimate = i == 0 ? tracker.seed(frame, truth.box.box) : tracker.follow(frame);
    told += !truth.present && !estimate.present ? 1 : 0;
    last = estimate.present ? overlap(estimate.box.box, truth.box.box) : 0;
  }
  EXPECT_GT(told, 15);  // of 20 hidden frames
  EXPECT_GT(last, 0.7);
}

TEST(CorrPlain, KeepsTheSizeItWasSeededWith) {
  const Scene scene(demo_scene("climb"), {{"frames", 40}}, 5);
  CorrPlain tracker{CorrPlainParams{}};
  const Box seed = scene.truth().rows[0].box.box;
  for (int i = 0; i < 40; ++i) {
    const Image<Byte> picture = scene.render(i);
    const Estimate estimate =
        i == 0 ? tracker.seed({picture.view(), 0, 0}, seed) : tracker.follow({picture.view(), i, 0});
    EXPECT_EQ(estimate.box.box.w, seed.w);
    EXPECT_EQ(estimate.box.box.h, seed.h);
  }
}

TEST(CorrPlain, DrawsItsWarpsFromItsRandomSeed) {
  const Scene scene(demo_scene("steady"), {{"frames", 3}}, 5);
  const auto run = [&](int random_seed) {
    CorrPlainParams params;
    params.random_seed = random_seed;
    CorrPlain tracker(params);
    const Image<Byte> first = scene.render(0);
    const Image<Byte> second = scene.render(2);
    (void)tracker.seed({first.view(), 0, 0}, scene.truth().rows[0].box.box);
    return tracker.follow({second.view(), 1, 0}).confidence;
  };
  EXPECT_EQ(run(1), run(1));
  EXPECT_NE(run(1), run(2));
}

}  // namespace mnemon
