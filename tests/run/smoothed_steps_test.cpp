// SPDX-License-Identifier: MIT
#include <mnemon/run/smoothed_steps.hpp>

#include <map>

#include <gtest/gtest.h>

#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

const Image<Byte> kDark(48, 64, 3);
const Box kRest{10, 10, 20, 20};

// Frame 0 is marked, and the answer jumps 9 px to the right from frame 1 on. The boxes' left sides.
std::vector<double> lefts(double smooth_s, int frames) {
  std::map<int, Box> script;
  for (int i = 1; i < frames; ++i) script[i] = {19, 10, 20, 20};
  test::ScriptedTracker tracker(script);
  SmoothedSteps steps(smooth_s);
  std::vector<double> found;
  for (int i = 0; i < frames; ++i) {
    const std::optional<Region> mark = i == 0 ? std::optional(Region(kRest)) : std::nullopt;
    found.push_back(steps.take(tracker, {kDark.view(), i, i / 10.0}, mark).box.box.x);
  }
  return found;
}

}  // namespace

TEST(SmoothedSteps, LeavesAnswersAsTheyAreWithoutATime) {
  EXPECT_EQ(lefts(0, 4), (std::vector<double>{10, 19, 19, 19}));
}

TEST(SmoothedSteps, ComesToRestWhereTheTrackerDoes) {
  const std::vector<double> found = lefts(0.3, 60);
  EXPECT_EQ(found[0], 10);
  for (std::size_t i = 1; i < found.size(); ++i) EXPECT_GT(found[i], found[i - 1] - 1e-9) << i;
  EXPECT_LT(found[1], 15);
  EXPECT_NEAR(found.back(), 19, 0.01);
}

TEST(SmoothedSteps, BeginsAnewAtAMark) {
  test::ScriptedTracker tracker;
  SmoothedSteps steps(5);
  (void)steps.take(tracker, {kDark.view(), 0, 0}, Region(kRest));
  const Box elsewhere{40, 20, 20, 20};
  EXPECT_EQ(steps.take(tracker, {kDark.view(), 1, 0.1}, Region(elsewhere)).box.box, elsewhere);
}

}  // namespace mnemon
