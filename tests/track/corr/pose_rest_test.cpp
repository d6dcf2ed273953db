// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/pose_rest.hpp>

#include <vector>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

// The frames of so many on which a size is measured, where it grows by a factor on each of the first `growing`.
std::vector<int> sizes_measured(int longest, int frames, int growing = 0) {
  PoseRest rest(longest);
  std::vector<int> measured;
  for (int frame = 1; frame <= frames; ++frame) {
    const PoseSearch::Asked asked = rest.next();
    if (asked.size) measured.push_back(frame);
    rest.measured(asked, {frame <= growing ? 1.2 : 1.0, 0});
  }
  return measured;
}

}  // namespace

TEST(PoseRest, MeasuresEverMoreSeldomWhatRests) {
  EXPECT_EQ(sizes_measured(4, 15), (std::vector{1, 3, 7, 11, 15}));
  EXPECT_EQ(sizes_measured(2, 7), (std::vector{1, 3, 5, 7}));
  EXPECT_EQ(sizes_measured(1, 4), (std::vector{1, 2, 3, 4}));
}

TEST(PoseRest, MeasuresOnEveryFrameWhatChanges) {
  EXPECT_EQ(sizes_measured(4, 10, 5), (std::vector{1, 2, 3, 4, 5, 6, 8}));
}

TEST(PoseRest, KeepsSizeAndTurnApart) {
  PoseRest rest(8);
  int sizes = 0;
  for (int frame = 0; frame < 20; ++frame) {
    const PoseSearch::Asked asked = rest.next();
    EXPECT_TRUE(asked.turn);
    sizes += asked.size ? 1 : 0;
    rest.measured(asked, {1, -9});
  }
  EXPECT_EQ(sizes, 4);  // on frames 1, 3, 7, 15
}

TEST(PoseRest, MeasuresBothAtOnceWhenWoken) {
  PoseRest rest(8);
  for (int frame = 0; frame < 9; ++frame) rest.measured(rest.next(), {1, 0});
  rest.wake();
  const PoseSearch::Asked asked = rest.next();
  EXPECT_TRUE(asked.size);
  EXPECT_TRUE(asked.turn);
}

}  // namespace mnemon
