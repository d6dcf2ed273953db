// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/fixed.hpp>

#include <array>
#include <vector>

#include <gtest/gtest.h>

#include "track/shift/drawing.hpp"

namespace mnemon {
namespace {

using test::Colour;
using test::Drawing;
using test::drawn;
using test::follow_stages;
using test::frame_of;

}  // namespace

TEST(ShiftFixed, FollowsTwoColoursAcrossNoisyGround) {
  std::vector<Drawing> stages;
  for (int i = 0; i < 30; ++i) stages.push_back({{{60.0 + 4 * i, 60.0 + 2 * i}, 24, 14, 0}});
  const auto estimates = follow_stages<ShiftFixed>(ShiftFixedParams{}, stages);
  for (std::size_t i = 0; i < stages.size(); ++i) {
    EXPECT_TRUE(estimates[i].present);
    EXPECT_GT(overlap(estimates[i].box, box_of(stages[i].ellipse)), 0.85) << i;
  }
}

TEST(ShiftFixed, StandsLightThatFallsSlowly) {
  std::vector<Drawing> stages;
  for (int i = 0; i < 60; ++i)
    stages.push_back(
        {{{80.0 + i, 90}, 24, 16, 0}, {210, 40, 40}, {200, 170, 30}, {90, 110, 100}, 1 - 0.008 * i});
  const auto estimates = follow_stages<ShiftFixed>(ShiftFixedParams{}, stages);
  EXPECT_TRUE(estimates.back().present);
  EXPECT_GT(overlap(estimates.back().box, box_of(stages.back().ellipse)), 0.75);
}

TEST(ShiftFixed, StandsWhiteBalanceThatDrifts) {
  std::vector<Drawing> stages;
  for (int i = 0; i < 80; ++i) {
    Drawing stage{{{60.0 + 1.5 * i, 90}, 24, 16, 0}};
    stage.tint = {1 - 0.003 * i, 1, 1 + 0.005 * i};  // from warm to cold
    stages.push_back(stage);
  }
  const auto estimates = follow_stages<ShiftFixed>(ShiftFixedParams{}, stages);
  for (std::size_t i = 0; i < stages.size(); ++i) {
    EXPECT_TRUE(estimates[i].present) << i;
    EXPECT_GT(overlap(estimates[i].box, box_of(stages[i].ellipse)), 0.7) << i;
  }
}

TEST(ShiftFixed, SaysThatTheTargetIsGoneAndFindsItElsewhere) {
  std::vector<Drawing> stages;
  for (int i = 0; i < 40; ++i) {
    Drawing stage{{{60, 60}, 22, 14, 0}};
    if (i >= 10 && i < 20) stage.left = stage.right = stage.ground;
    if (i >= 20) stage.ellipse.middle = {190, 130};
    stages.push_back(stage);
  }
  const auto estimates = follow_stages<ShiftFixed>(ShiftFixedParams{}, stages);
  for (int i = 11; i < 20; ++i) EXPECT_FALSE(estimates[i].present) << i;
  EXPECT_TRUE(estimates[25].present);
  EXPECT_GT(overlap(estimates[25].box, box_of(stages[25].ellipse)), 0.7);
}

// A lost target is looked for elsewhere on two frames of three, and where it was on the third: one place a frame.
TEST(ShiftFixed, LooksAtOnePlaceAFrameForALostTarget) {
  const Drawing there{{{60, 60}, 22, 14, 0}};
  Drawing nothing = there;
  nothing.left = nothing.right = nothing.ground;
  ShiftFixed tracker{ShiftFixedParams{}};
  int key = 100;
  const auto see = [&](const Drawing& drawing) {
    const Image<Byte> picture = drawn(drawing, 180, 240, static_cast<std::uint64_t>(key++));
    return key == 101 ? tracker.seed(frame_of(picture, 0), box_of(there.ellipse))
                      : tracker.follow(frame_of(picture, key - 101));
  };
  see(there);
  for (int i = 0; i < 2; ++i) EXPECT_FALSE(see(nothing).present);
  int where_it_was = 0;
  for (int i = 0; i < 8; ++i) {
    EXPECT_FALSE(see(nothing).present);
    ASSERT_EQ(tracker.candidates().size(), 1U);
    if (overlap(tracker.candidates()[0].box, upright_around(box_of(there.ellipse))) > 0.3) ++where_it_was;
  }
  EXPECT_GE(where_it_was, 3);
  EXPECT_LE(where_it_was, 4);
  Drawing elsewhere = there;
  elsewhere.ellipse.middle = {190, 130};
  see(elsewhere);
  EXPECT_TRUE(see(elsewhere).present);
}

}  // namespace mnemon
