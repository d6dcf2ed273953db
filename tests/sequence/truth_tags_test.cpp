// SPDX-License-Identifier: MIT
#include <mnemon/sequence/truth_tags.hpp>

#include <functional>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

constexpr FrameSize kSize{640, 360};

Truth made(int frames, const std::function<OrientedBox(int)>& box) {
  Truth truth;
  for (int i = 0; i < frames; ++i) truth.rows.push_back({i, box(i), true, 1, {}});
  return truth;
}

std::vector<std::string> tags(const Truth& truth) { return tags_from_truth(truth, kSize); }

using Tags = std::vector<std::string>;

}  // namespace

TEST(TruthTags, AreNoneOfAStillTarget) {
  EXPECT_EQ(tags(made(50, [](int) { return OrientedBox{{100, 100, 50, 40}, 0}; })), Tags{});
  EXPECT_EQ(tags({}), Tags{});
}

TEST(TruthTags, FollowFromSizeAspectAndAngle) {
  const auto growing = [](double by) {
    return made(50, [=](int i) {
      return OrientedBox{box_around({300, 180}, 50 + by * i, 40 + 0.8 * by * i), 0};
    });
  };
  EXPECT_EQ(tags(growing(0.5)), Tags{});  // to 1.49 times
  EXPECT_EQ(tags(growing(0.6)), Tags{"scale"});
  EXPECT_EQ(tags(growing(-0.4)), Tags{"scale"});
  EXPECT_EQ(tags(made(50,
                      [](int i) {
                        return OrientedBox{box_around({300, 180}, 50, i < 25 ? 40 : 28), 0};
                      })),
            Tags{"aspect"});
  EXPECT_EQ(tags(made(50,
                      [](int i) {
                        return OrientedBox{{100, 100, 50, 40}, 80.0 + 0.5 * i};
                      })),
            Tags{"rotation"});
  // From 85 to -85 degrees is a turn of 10.
  EXPECT_EQ(tags(made(50,
                      [](int i) {
                        return OrientedBox{{100, 100, 50, 40}, i < 25 ? 85.0 : -85.0};
                      })),
            Tags{});
}

TEST(TruthTags, CallFastWhatMovesFarOftenEnough) {
  const auto leaping = [](int every) {
    return made(100, [=](int i) { return OrientedBox{{100.0 + 20 * (i / every % 2), 100, 50, 50}, 0}; });
  };
  EXPECT_EQ(tags(leaping(10)), Tags{"fast"});  // nine leaps of 0.4 sizes in 99 steps
  EXPECT_EQ(tags(leaping(25)), Tags{});
  Truth gaps = leaping(1);
  std::erase_if(gaps.rows, [](const TruthRow& row) { return row.frame % 2 == 1; });
  EXPECT_EQ(tags(gaps), Tags{});  // what moved meanwhile is not known
}

TEST(TruthTags, CallSmallWhatMostlyIs) {
  const auto of = [](int small) {
    return made(50, [=](int i) {
      return OrientedBox{box_around({300, 180}, i < small ? 20 : 26, i < small ? 20 : 26), 0};
    });
  };
  EXPECT_EQ(tags(of(25)), Tags{"small"});
  EXPECT_EQ(tags(of(24)), Tags{});
}

TEST(TruthTags, KnowWhatLeavesTheView) {
  const auto drifting = [](double step) {
    return made(50, [=](int i) { return OrientedBox{{10 - step * i, 100, 50, 40}, 0}; });
  };
  EXPECT_EQ(tags(drifting(0.6)), Tags{});  // 19 of 50 px outside
  EXPECT_EQ(tags(drifting(0.72)), Tags{"out-of-view"});
  Truth hidden = drifting(0);
  hidden.rows[30] = {30, {}, false, 0, {}};
  EXPECT_EQ(tags(hidden), Tags{});  // behind something, in the middle of the picture
  Truth gone = drifting(0.6);
  gone.rows[40] = {40, {}, false, 0, {}};
  EXPECT_EQ(tags(gone), Tags{"out-of-view"});
}

TEST(TruthTags, SayWhichTagsTheyCanTell) {
  EXPECT_TRUE(follows_from_truth("scale"));
  EXPECT_FALSE(follows_from_truth("blur"));
}

}  // namespace mnemon
