// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/box_motion.hpp>

#include <cmath>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

// A box that goes at a constant velocity and grows by the same share every frame.
Box moving(int frame) {
  return box_around({100 + 3.0 * frame, 80 - 2.0 * frame}, 40 * std::pow(1.01, frame), 30);
}

TEST(BoxMotion, StandsStillAtFirst) {
  const BoxMotion motion(moving(0));
  EXPECT_NEAR(overlap(motion.box(), moving(0)), 1, 1e-12);  // sizes go through a logarithm and back
}

TEST(BoxMotion, ForecastsSteadyMotionAndGrowth) {
  BoxMotion motion(moving(0));
  for (int t = 1; t <= 60; ++t) {
    motion.advance(true);
    motion.correct(moving(t));
  }
  motion.advance(true);
  EXPECT_GT(overlap(motion.box(), moving(61)), 0.99);
  EXPECT_LT(overlap(motion.box(), moving(60)), 0.9);
}

TEST(BoxMotion, IsTrustedLessTheLongerNothingIsSeen) {
  BoxMotion motion(moving(0));
  for (int t = 1; t <= 20; ++t) {
    motion.advance(true);
    motion.correct(moving(t));
  }
  double before = motion.trust();
  EXPECT_GT(before, 0.9);
  for (int t = 0; t < 20; ++t) {
    motion.advance(false);
    EXPECT_LT(motion.trust(), before);
    before = motion.trust();
  }
}

TEST(BoxMotion, SlowsDownWhatIsNotSeen) {
  BoxMotion motion(moving(0));
  for (int t = 1; t <= 60; ++t) {
    motion.advance(true);
    motion.correct(moving(t));
  }
  const double first = centre(motion.box()).x;
  motion.advance(false);
  const double step = centre(motion.box()).x - first;
  motion.advance(false);
  // A share of 0.92 of the rate is kept in each frame.
  EXPECT_NEAR(centre(motion.box()).x - first, step * 1.92, 1e-9);
}

TEST(BoxMotion, StartsAgainWhereABoxLeapt) {
  BoxMotion motion(moving(0));
  for (int t = 1; t <= 20; ++t) {
    motion.advance(true);
    motion.correct(moving(t));
  }
  const Box there{300, 200, 20, 20};
  motion.start(there);
  EXPECT_NEAR(overlap(motion.box(), there), 1, 1e-12);
  motion.advance(true);
  EXPECT_NEAR(overlap(motion.box(), there), 1, 1e-12);  // as its velocity is not known
}

TEST(BoxMotion, DoubtsWhatIsFarFromTheUsualOverlap) {
  BoxMotion motion(moving(0));
  EXPECT_TRUE(motion.is_doubtful(0.05));
  EXPECT_FALSE(motion.is_doubtful(0.2));  // overlaps of about half are usual as yet, give or take 0.2 twice
  for (int t = 1; t <= 60; ++t) {
    motion.advance(true);
    motion.correct(moving(t));
    motion.take_met(0.9);
  }
  EXPECT_TRUE(motion.is_doubtful(0.25));
  EXPECT_FALSE(motion.is_doubtful(0.4));  // more than 0.35 is never doubtful
  for (int t = 0; t < 60; ++t) motion.advance(false);
  EXPECT_FALSE(motion.is_doubtful(0.25));  // a forecast that nobody trusts tells nothing
  EXPECT_TRUE(motion.is_doubtful(0.05));
}

}  // namespace
}  // namespace mnemon
