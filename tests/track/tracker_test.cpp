// SPDX-License-Identifier: MIT
#include <mnemon/track/tracker.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

const Image<Byte> kBlackPicture(48, 64, 3);
const Box kInside{10, 10, 20, 20};

Frame black(int index) { return {kBlackPicture.view(), index, index / 10.0}; }

}  // namespace

TEST(Tracker, IsSeededBeforeItFollows) {
  test::ScriptedTracker tracker;
  test::expect_parts(test::message_of<CallError>([&] { (void)tracker.follow(black(0)); }), {"seed"});
  EXPECT_TRUE(tracker.followed.empty());
  (void)tracker.seed(black(0), kInside);
  (void)tracker.follow(black(1));
  EXPECT_EQ(tracker.followed, std::vector{1});
}

TEST(Tracker, RefusesFramesOfAnotherSize) {
  test::ScriptedTracker tracker;
  (void)tracker.seed(black(0), kInside);
  const Image<Byte> larger(96, 128, 3);
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)tracker.follow({larger.view(), 1, 0.1});
                     }),
                     {"128", "64"});
  EXPECT_TRUE(tracker.followed.empty());
  (void)tracker.follow(black(1));
}

TEST(Tracker, StaysAsItWasWhereARegionIsRefused) {
  test::ScriptedTracker tracker;
  (void)tracker.seed(black(0), kInside);
  EXPECT_THROW((void)tracker.seed(black(1), Box{100, 100, 5, 5}), CallError);
  EXPECT_THROW((void)tracker.seed(black(1), Box{10, 10, 0, 5}), CallError);
  EXPECT_EQ(tracker.seeded, std::vector{0});
  EXPECT_EQ(tracker.follow(black(1)).box.box, kInside);
}

TEST(Tracker, IsShownNothingElseThanColourPictures) {
  test::ScriptedTracker tracker;
  const Image<Byte> grey(48, 64, 1);
  EXPECT_THROW((void)tracker.seed({grey.view(), 0, 0}, kInside), CallError);
  EXPECT_THROW((void)tracker.seed({{}, 0, 0}, kInside), CallError);
  EXPECT_THROW(tracker.watch({grey.view(), 0, 0}), CallError);
}

TEST(Tracker, HasNoMaskWithoutATarget) {
  EXPECT_TRUE(test::ScriptedTracker().mask().empty());
  EXPECT_EQ(test::ScriptedTracker().clone(), nullptr);
}

}  // namespace mnemon
