// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/memory.hpp>

#include <algorithm>
#include <cmath>
#include <string>
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

}  // namespace

TEST(MaskMemory, KeepsEveryPieceThatWasMarked) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_marked_pieces(tracker);
}

TEST(MaskMemory, FollowsAGrowingTurningTarget) {
  MaskMemory tracker(MaskMemoryParams{});
  EXPECT_GT(least_mask_overlap(tracker, growing_and_turning()), 0.85);
}

// A frame is passed over, on which another tracker saw the target move by (6, -3) and grow by a tenth.
TEST(MaskMemory, RidesWithWhatAnotherTrackerSaw) {
  const auto ellipse_at = [](Point middle, double size) { return Ellipse{middle, 30 * size, 20 * size, 20}; };
  MaskMemory tracker(MaskMemoryParams{});
  const Ellipse first = ellipse_at({100, 80}, 1);
  for (int i = 0; i < 10; ++i)
    (void)test::seed_or_follow(tracker, frame_of(picture_of({{first}}, i), i), test::box_around_drawn(first));
  const Estimate before = tracker.follow(frame_of(picture_of({{first}}, 10), 10));
  EXPECT_FALSE(tracker.candidates().empty());
  const BoxChange change({0, 0, 40, 30}, {4, -4.5, 44, 33});
  const Estimate ridden = tracker.ride(change);
  EXPECT_EQ(ridden.box.box, change.of(before.box.box));
  EXPECT_EQ(ridden.confidence, before.confidence);
  EXPECT_TRUE(ridden.present);
  EXPECT_TRUE(tracker.candidates().empty());
  const Ellipse now = ellipse_at(change.of(first.middle), change.growth());
  EXPECT_GT(mask_overlap(tracker.mask(), now), 0.75);  // as its mask only moves
  const Estimate after = tracker.follow(frame_of(picture_of({{now}}, 12), 12));
  EXPECT_GT(overlap(after.box.box, test::box_around_drawn(now)), 0.9);
  EXPECT_GT(mask_overlap(tracker.mask(), now), 0.9);
  EXPECT_FALSE(tracker.candidates().empty());

  // A new mark is where it is, however far the mask has gone with the other tracker.
  (void)tracker.ride(change);
  MaskMemory fresh(MaskMemoryParams{});
  const Image<Byte> picture = picture_of({{first}}, 13);
  (void)tracker.seed(frame_of(picture, 0), test::box_around_drawn(first));
  (void)fresh.seed(frame_of(picture, 0), test::box_around_drawn(first));
  EXPECT_TRUE(std::ranges::equal(tracker.mask().elements(), fresh.mask().elements()));
}

TEST(MaskMemory, TellsHidingAndComesBack) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_survive_hiding(tracker);
}

// Two alike cross; the target is the one that goes to the right.
TEST(MaskMemory, DoesNotChangeOverToALookAlike) {
  MaskMemory tracker(MaskMemoryParams{});
  for (int i = 0; i < 60; ++i) {
    const Ellipse own{{50 + 2.0 * i, 72}, 18, 14, 0};
    const Ellipse other{{170 - 2.0 * i, 96}, 18, 14, 0};
    const Image<Byte> picture = test::picture_of({{own}, {other}}, 200 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(own));
    if (i > 45) {
      EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(own)), 0.6) << i;
    }
  }
}

TEST(MaskMemory, HoldsInAnotherLight) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_hold_in_another_light(tracker);
}

TEST(MaskMemory, FindsALostTargetInAnotherLight) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_find_in_another_light(tracker);
}

TEST(MaskMemory, FindsATargetThatIsTurnedAsItWasBefore) {
  EXPECT_GT(found_after_turning("several"), 0.7);
  EXPECT_LT(found_after_turning("latest"), 0.1);
}

TEST(MaskMemory, DiffersWithoutItsParts) {
  struct PartsOff {
    const char* memory;
    bool motion;
  };
  std::vector<double> confidences;
  for (const auto& [memory, motion] :
       {PartsOff{"several", true}, {"seed", true}, {"latest", true}, {"several", false}}) {
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

TEST(MaskMemory, KeepsItsSizeBehindABoard) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_keep_its_size(tracker);
}

TEST(MaskMemory, FindsALostTargetInAnotherSize) {
  MaskMemory tracker(MaskMemoryParams{});
  expect_to_find_it_smaller(tracker);
}

// A board hides more and more of a target whose like is in full view beneath it.
TEST(MaskMemory, StaysWithHalfATargetBesideItsLike) {
  constexpr Ellipse kOwn{{100, 70}, 18, 12, 0};
  constexpr Ellipse kLike{{106, 97}, 18, 12, 0};
  MaskMemory tracker(MaskMemoryParams{});
  for (int i = 0; i < 60; ++i) {
    Image<Byte> picture = test::drawn_picture(std::vector<test::DrawnTarget>{{kLike}, {kOwn}}, test::kRows,
                                              test::kCols, 500 + i);
    put_board(picture, 119 - std::clamp(i - 20, 0, 20), test::kCols, 84);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(kOwn));
    EXPECT_LT(overlap(estimate.box.box, test::box_around_drawn(kLike)), 0.2) << i;
    EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(kOwn)), 0.6) << i;
  }
}

}  // namespace mnemon
