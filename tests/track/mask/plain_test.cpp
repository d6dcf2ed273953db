// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/plain.hpp>

#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"
#include "track/expectations.hpp"

namespace mnemon {
namespace {

using test::expect_marked_pieces;
using test::expect_to_find_in_another_light;
using test::expect_to_find_it_smaller;
using test::expect_to_hold_in_another_light;
using test::expect_to_keep_its_size;
using test::expect_to_survive_hiding;
using test::frame_of;
using test::growing_and_turning;
using test::in_light;
using test::kMiddle;
using test::least_mask_overlap;
using test::mask_of;
using test::mask_overlap;
using test::picture_of;
using test::put_board;
using test::ThreePieces;

}  // namespace

TEST(MaskPlain, KeepsEveryPieceThatWasMarked) {
  MaskPlain tracker(MaskPlainParams{});
  expect_marked_pieces(tracker);
}

TEST(MaskPlain, FollowsAGrowingTurningTarget) {
  MaskPlain tracker(MaskPlainParams{});
  EXPECT_GT(least_mask_overlap(tracker, growing_and_turning()), 0.85);
}

// Before something of its own colours a target's contrast is gone, its pattern is not.
TEST(MaskPlain, HoldsATargetBeforeItsOwnColours) {
  const Ellipse wide{{170, 80}, 90, 70, 0};
  MaskPlain tracker(MaskPlainParams{});
  for (int i = 0; i < 50; ++i) {
    const Ellipse target{{40 + 2.5 * i, 80}, 20, 16, 0};
    const Image<Byte> picture = test::picture_of({{wide}, {target}}, 50 + i);
    const Box right = test::box_around_drawn(target);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present) << i;
    EXPECT_GT(overlap(estimate.box.box, right), 0.5) << i;
  }
}

TEST(MaskPlain, ReturnsTheTurnedBoxWhereAsked) {
  MaskPlainParams params;
  params.turned_box = true;
  MaskPlain tracker(params);
  for (int i = 0; i < 25; ++i) {
    const Ellipse ellipse{{110, 80}, 42, 15, 30 + 2.0 * i};
    const Image<Byte> picture = test::picture_of({{ellipse}}, 60 + i);
    const Frame frame = frame_of(picture, i);
    if (i == 0) {
      (void)tracker.seed(frame, box_of(ellipse));
      continue;
    }
    const OrientedBox box = tracker.follow(frame).box;
    // Either side of the box may be the long one, a quarter turn apart.
    const double longer = box.box.w > box.box.h ? box.angle_deg : box.angle_deg + 90;
    EXPECT_NEAR(std::remainder(longer - ellipse.angle_deg, 180.0), 0, 8) << i;
    EXPECT_GT(overlap(box, box_of(ellipse)), 0.7) << i;
  }
}

TEST(MaskPlain, TellsHidingAndComesBack) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_survive_hiding(tracker);
}

TEST(MaskPlain, TellsHidingWithTurnedBoxesToo) {
  MaskPlainParams params;
  params.turned_box = true;
  MaskPlain tracker(params);
  expect_to_survive_hiding(tracker);
}

TEST(MaskPlain, HoldsInAnotherLight) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_hold_in_another_light(tracker);
}

TEST(MaskPlain, FindsALostTargetInAnotherLight) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_find_in_another_light(tracker);
}

TEST(MaskPlain, KeepsItsSizeBehindABoard) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_keep_its_size(tracker);
}

TEST(MaskPlain, FindsALostTargetInAnotherSize) {
  MaskPlain tracker(MaskPlainParams{});
  expect_to_find_it_smaller(tracker);
}

TEST(MaskPlain, LooksAtOnePlaceAFrameForALostTarget) {
  const Ellipse target{{60, 60}, 32, 24, 0};
  MaskPlain tracker(MaskPlainParams{});
  int elsewhere = 0;
  for (int i = 0; i < 40; ++i) {
    std::vector<test::DrawnTarget> drawn;
    if (i < 15) drawn.push_back({target});
    const Image<Byte> picture = test::drawn_picture(drawn, 120, 200, 1100 + i);
    (void)test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(target));
    if (i < 18) continue;
    ASSERT_EQ(tracker.candidates().size(), 1U) << i;
    if (overlap(tracker.candidates()[0].box, test::box_around_drawn(target)) == 0) ++elsewhere;
  }
  EXPECT_GT(elsewhere, 8);
}

}  // namespace mnemon
