// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/remembered_frames.hpp>

#include <algorithm>
#include <vector>

#include <gtest/gtest.h>

namespace mnemon {
// Frames that are told apart by their place.
TEST(RememberedFrames, AreTheSeedsNewOnesAndAnOldOne) {
  RememberedFrames frames;
  frames.start(30, 20, Appearance(30, 20), {{-1, 0}});
  EXPECT_EQ(frames.size(), 1);
  for (int i = 0; i < 300; ++i) {
    frames.add().pose.middle.x = i;
    EXPECT_EQ(frames.size(), std::min(i + 2, RememberedFrames::kMost));
    EXPECT_EQ(frames[0].pose.middle.x, -1);
    std::vector<int> ages;
    for (int k = 1; k < frames.size(); ++k) ages.push_back(i - static_cast<int>(frames[k].pose.middle.x));
    std::ranges::sort(ages);
    EXPECT_EQ(ages.front(), 0);
    EXPECT_EQ(std::ranges::adjacent_find(ages), ages.end());
    if (i < RememberedFrames::kMost - 1) {
      EXPECT_EQ(ages.back(), i);  // nothing is forgotten while there is room
    }
    if (i < 63) continue;
    EXPECT_GE(ages.back(), 16) << i;
    EXPECT_LT(ages.back(), 32) << i;
    for (std::size_t k = 1; k < ages.size(); ++k) EXPECT_LE(ages[k], 3 * (ages[k - 1] + 1)) << i;
  }
}

TEST(RememberedFrames, StartAnew) {
  RememberedFrames frames;
  frames.start(30, 20, Appearance(30, 20), {{-1, 0}});
  for (int i = 0; i < 9; ++i) (void)frames.add();
  frames.start(24, 24, Appearance(24, 24), {{-2, 0}});
  EXPECT_EQ(frames.size(), 1);
  EXPECT_EQ(frames[0].pose.middle.x, -2);
}

}  // namespace mnemon
