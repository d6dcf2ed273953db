// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/motion.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::DrawnTarget;
using test::frame_of;
using Targets = std::vector<DrawnTarget>;

}  // namespace

// The background behind the target is what was seen there before it came, and not a guess.
TEST(BlobMotion, LearnsTheBackgroundFromFramesBeforeTheTarget) {
  const Box box{36, 32, 48, 36};
  const auto ground = [](int seed) {
    return test::drawn_picture(std::vector<test::DrawnTarget>{}, 100, 140, seed);
  };
  // How far the background is off behind the target, in levels (root of the mean square).
  const auto off = [&](int watched) {
    BlobMotionParams params;
    params.chain = "grey background";
    BlobMotion tracker(params);
    EXPECT_TRUE(tracker.watches());
    for (int i = 0; i < watched; ++i) tracker.watch(test::frame_of(ground(40 + i), i));
    Image<Byte> with = ground(100);
    for (int r = 32; r < 68; ++r) std::fill_n(&with(r, 36), 3 * 48, Byte{250});
    (void)tracker.seed(test::frame_of(with, 60), box);
    const auto stages = tracker.stages();
    const auto background = std::ranges::find(stages, "background", &Stage::name)->picture;
    const Image<Byte> without = ground(99);
    double sum = 0;
    for (int r = 32; r < 68; ++r)
      for (int c = 36; c < 84; ++c) {
        const double grey = 0.299 * without(r, c, 0) + 0.587 * without(r, c, 1) + 0.114 * without(r, c, 2);
        sum += (background(r, c) - grey) * (background(r, c) - grey);
      }
    return std::sqrt(sum / (36 * 48));
  };
  // Noise of 4 levels in each colour is some 2.7 in grey; a guess from the box's edges misses the ground's waves.
  EXPECT_LT(off(20), 4.5);
  EXPECT_GT(off(0), 7);
}

// Where the target rested before it was marked, the watched background holds it: there the background is guessed.
TEST(BlobMotion, DoesNotTakeATargetThatRestedForBackground) {
  const auto picture = [](double x, int seed) {
    return test::drawn_picture(Targets{{{{x, 50}, 24, 18, 0}}}, 100, 200, seed);
  };
  BlobMotionParams params;
  params.chain = "grey background";
  BlobMotion tracker(params);
  for (int i = 0; i < 30; ++i) tracker.watch(test::frame_of(picture(60, 70 + i), i));
  (void)tracker.seed(test::frame_of(picture(60, 100), 30), test::box_around_drawn({{60, 50}, 24, 18, 0}));
  double least = 1;
  for (int i = 1; i <= 25; ++i) {
    const Estimate estimate = tracker.follow(test::frame_of(picture(60 + 3 * i, 100 + i), 30 + i));
    least =
        std::min(least, overlap(estimate.box.box, test::box_around_drawn({{60 + 3.0 * i, 50}, 24, 18, 0})));
  }
  EXPECT_GT(least, 0.5);
}

// What was watched is used once: a second seeding is as new, and so is one of frames of another size.
TEST(BlobMotion, ForgetsWhatItWatchedOnceSeeded) {
  const test::DrawnTarget target{{{60, 50}, 24, 18, 0}};
  const Box box = test::box_around_drawn(target.ellipse);
  const Image<Byte> with = test::drawn_picture(std::vector{target}, 100, 140, 7);
  const Image<Byte> moved =
      test::drawn_picture(std::vector{test::DrawnTarget{{{66, 52}, 24, 18, 0}}}, 100, 140, 8);
  const Image<Byte> other(50, 60, 3);
  const Image<Byte> empty = test::drawn_picture(std::vector<test::DrawnTarget>{}, 100, 140, 6);
  BlobMotion fresh({});
  (void)fresh.seed(test::frame_of(with, 0), box);
  const Estimate wanted = fresh.follow(test::frame_of(moved, 1));
  for (const Image<Byte>* watched : {&empty, &other}) {
    BlobMotion used({});
    used.watch(test::frame_of(*watched, 0));
    (void)used.seed(test::frame_of(with, 1), box);
    if (watched == &empty) (void)used.seed(test::frame_of(with, 2), box);
    EXPECT_EQ(used.follow(test::frame_of(moved, 3)).box, wanted.box);
  }
}

TEST(BlobMotion, FollowsWhatMovesOverStillGround) {
  BlobMotion tracker(BlobMotionParams{});
  double least = 1;
  for (int i = 0; i < 50; ++i) {
    const Ellipse ellipse{{40 + 2.5 * i, 80}, 16, 13, 0};
    const Image<Byte> picture = test::drawn_picture(Targets{{ellipse}}, test::kRows, test::kCols, 500 + i);
    const Box right = test::box_around_drawn(ellipse);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    least = std::min(least, overlap(estimate.box.box, right));
  }
  EXPECT_GT(least, 0.5);
}

}  // namespace mnemon
