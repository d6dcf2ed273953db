// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/mask/memory.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::frame_of;

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

// How alike the last of many frames of another look is, to the appearance that has learnt them.
double likeness_after_change(bool forgets) {
  const Ellipse ellipse{{110, 80}, 30, 24, 0};
  const Box box = test::box_around_drawn(ellipse);
  const Image<Byte> first = test::picture_of({{ellipse}}, 1);
  MaskTarget target;
  MaskSighting seen = target.start(frame_of(first, 0), box, box, {});
  if (forgets) target.forget_seed();
  for (int i = 1; i < 60; ++i) {
    const Image<Byte> picture = test::picture_of({{ellipse, 0.6}}, 1 + i);
    seen = target.look(frame_of(picture, i), {ellipse.middle, 1, 0, 0});
    target.learn(seen);
  }
  return target.likeness(target.appearance());
}

TEST(MaskTarget, IsPulledBackToItsSeedUnlessThatIsForgotten) {
  EXPECT_GT(likeness_after_change(true), likeness_after_change(false) + 0.05);
}

// The share of frames on which a target is found that was away, and comes back turned as it was first, not last.
double found_after_turning(const std::string& memory) {
  MaskMemoryParams params;
  params.memory = memory;
  MaskMemory tracker(params);
  int found = 0;
  for (int i = 0; i < 110; ++i) {
    const double turn = 1.5 * std::min(i, 60);
    const bool is_away = i >= 66 && i < 90;
    const Ellipse ellipse = i < 66 ? Ellipse{{110, 80}, 30, 20, turn} : Ellipse{{60, 90}, 30, 20, 0};
    const Image<Byte> picture =
        is_away ? test::picture_of({}, 300 + i) : test::picture_of({{ellipse}}, 300 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(ellipse));
    const Box right = test::box_around_drawn(ellipse);
    if (i < 66) {
      EXPECT_GT(overlap(estimate.box.box, right), 0.7) << i;
    } else if (is_away && i > 68) {
      EXPECT_FALSE(estimate.present) << i;
    } else if (i >= 90) {
      found += estimate.present && overlap(estimate.box.box, right) > 0.6 ? 1 : 0;
    }
  }
  return found / 20.0;
}

TEST(MaskMemory, FindsATargetThatIsTurnedAsItWasBefore) {
  EXPECT_GT(found_after_turning("several"), 0.7);
  EXPECT_LT(found_after_turning("latest"), 0.1);
}

TEST(MaskMemory, DiffersWithoutItsParts) {
  struct Parts {
    const char* memory;
    bool motion;
  };
  std::vector<double> confidences;
  for (const auto& [memory, motion] :
       {Parts{"several", true}, {"seed", true}, {"latest", true}, {"several", false}}) {
    MaskMemoryParams params;
    params.memory = memory;
    params.motion = motion;
    MaskMemory tracker(params);
    const auto at = [](int i) {
      return Ellipse{{80 + 1.6 * i, 80 + 8 * std::sin(0.2 * i)},
                     24 * std::exp(0.012 * i),
                     18 * std::exp(0.012 * i),
                     1.5 * i};
    };
    Estimate estimate;
    for (int i = 0; i < 40; ++i) {
      const Image<Byte> picture = test::picture_of({{at(i)}}, 10 + i);
      estimate = test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(at(0)));
      EXPECT_TRUE(estimate.present) << memory << motion << i;
    }
    EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(at(39))), 0.8) << memory << motion;
    confidences.push_back(estimate.confidence);
  }
  for (int other = 1; other < 3; ++other) EXPECT_NE(confidences[0], confidences[other]) << other;
}

}  // namespace
}  // namespace mnemon
