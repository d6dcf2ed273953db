// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/colour.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

#include "support/drawn_target.hpp"
#include "track/expectations.hpp"

namespace mnemon {
namespace {

using test::DrawnTarget;
using test::expect_to_find_in_another_light;
using test::expect_to_hold_in_another_light;
using test::frame_of;
using test::in_light;
using Targets = std::vector<DrawnTarget>;

// How well the mask of a seeded box overlaps a bar in it that is so many pixels high. Haze fills the rest of the box,
// and a band about it as wide as that.
double overlap_with_bar(int high, int band) {
  Random random(6);
  Image<Byte> picture(test::kRows, test::kCols, 3);
  Image<Byte> bar(test::kRows, test::kCols);
  for (int r = 0; r < test::kRows; ++r)
    for (int c = 0; c < test::kCols; ++c) {
      const bool in_band = r >= 62 && r < 98 && std::abs(c - 110) <= band / 2;
      bar(r, c) = static_cast<Byte>(std::abs(2 * r + 1 - 160) < high && c >= 60 && c < 160);
      const std::array<int, 3> colour = bar(r, c) != 0 ? std::array{180, 40, 90}
                                        : in_band      ? std::array{150, 170, 190}
                                                       : std::array{90, 130, 200};
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>(colour[k] + static_cast<int>(random.uniform(-6, 7)));
    }
  BlobColour tracker(BlobColourParams{});
  const Estimate seeded = tracker.seed(frame_of(picture, 0), Box{60, 62, 100, 36});
  int both = 0;
  int either = 0;
  for (int r = 0; r < test::kRows; ++r)
    for (int c = 0; c < test::kCols; ++c) {
      both += bar(r, c) != 0 && seeded.mask(r, c) != 0 ? 1 : 0;
      either += bar(r, c) != 0 || seeded.mask(r, c) != 0 ? 1 : 0;
    }
  return both / std::max(1.0, 1.0 * either);
}

}  // namespace

TEST(BlobColour, HoldsInAnotherLight) {
  BlobColour tracker(BlobColourParams{});
  expect_to_hold_in_another_light(tracker);
}

TEST(BlobColour, FindsALostTargetInAnotherLight) {
  BlobColour tracker(BlobColourParams{});
  expect_to_find_in_another_light(tracker);
}

TEST(BlobColour, FollowsAGrowingTarget) {
  BlobColour tracker(BlobColourParams{});
  for (int i = 0; i < 50; ++i) {
    const double grown = std::exp(0.015 * i);
    const Ellipse ellipse{{60 + 2.0 * i, 80 + 20 * std::sin(0.1 * i)}, 15 * grown, 12 * grown, 0};
    const Image<Byte> picture = test::drawn_picture(Targets{{ellipse}}, test::kRows, test::kCols, 300 + i);
    const Box right = test::box_around_drawn(ellipse);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    EXPECT_TRUE(estimate.present);
    EXPECT_GT(overlap(estimate.box.box, right), 0.7) << i;
    ASSERT_TRUE(estimate.minor_px.has_value());
    EXPECT_NEAR(*estimate.minor_px, 2 * ellipse.half_h, 0.15 * ellipse.half_h) << i;
  }
}

// All that widens a piece grows with it, so that its measured size stays true to the seed's at any size.
TEST(BlobColour, MeasuresAShrinkingTarget) {
  BlobColour tracker(BlobColourParams{});
  for (int i = 0; i < 60; ++i) {
    const double half = 34 * std::exp(-0.014 * i);
    const Ellipse ellipse{{110, 80}, half, half, 0};
    const Image<Byte> picture = test::drawn_picture(Targets{{ellipse}}, test::kRows, test::kCols, 500 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(ellipse));
    ASSERT_TRUE(estimate.minor_px.has_value());
    EXPECT_NEAR(*estimate.minor_px, 2 * half, 0.03 * 2 * half) << i;
  }
}

// Two alike pass each other closely: the answer stays with its own, and is never in the middle of the two.
TEST(BlobColour, IsNotPulledToTheMiddleOfTwo) {
  BlobColour tracker(BlobColourParams{});
  for (int i = 0; i < 60; ++i) {
    const Ellipse own{{50 + 2.0 * i, 70}, 14, 12, 0};
    const Ellipse other{{170 - 2.0 * i, 100}, 14, 12, 0};
    const Image<Byte> picture =
        test::drawn_picture(Targets{{own}, {other}}, test::kRows, test::kCols, 400 + i);
    const Estimate estimate =
        test::seed_or_follow(tracker, frame_of(picture, i), test::box_around_drawn(own));
    EXPECT_GT(overlap(estimate.box.box, test::box_around_drawn(own)), 0.4) << i;
  }
}

TEST(BlobColour, TellsWhenTooLittleMatches) {
  BlobColour tracker(BlobColourParams{});
  const Ellipse ellipse{{110, 80}, 20, 16, 0};
  const Image<Byte> with = test::drawn_picture(Targets{{ellipse}}, test::kRows, test::kCols, 1);
  (void)tracker.seed(frame_of(with, 0), test::box_around_drawn(ellipse));
  EXPECT_TRUE(tracker.follow(frame_of(with, 1)).present);
  for (int i = 2; i < 12; ++i) {
    const Image<Byte> without = test::drawn_picture(Targets{}, test::kRows, test::kCols, i);
    const Estimate estimate = tracker.follow(frame_of(without, i));
    EXPECT_FALSE(estimate.present) << i;
    EXPECT_FALSE(estimate.minor_px.has_value());
  }
  // It comes back where it was not.
  const Ellipse elsewhere{{50, 50}, 20, 16, 0};
  bool found = false;
  for (int i = 12; i < 18; ++i) {
    const Image<Byte> again = test::drawn_picture(Targets{{elsewhere}}, test::kRows, test::kCols, i);
    const Estimate estimate = tracker.follow(frame_of(again, i));
    found = estimate.present && overlap(estimate.box.box, test::box_around_drawn(elsewhere)) > 0.5;
  }
  EXPECT_TRUE(found);
}

TEST(BlobColour, MasksAllOfWhatStandsOutInTheBox) {
  for (const int high : {20, 24, 28}) EXPECT_GT(overlap_with_bar(high, 220), 0.85) << high;
}

TEST(BlobColour, LeavesOutWhatElseIsInTheBox) { EXPECT_GT(overlap_with_bar(20, 160), 0.85); }

TEST(BlobColour, TakesAGivenColour) {
  Image<Byte> picture(80, 120, 3);
  for (int r = 0; r < 80; ++r)
    for (int c = 0; c < 120; ++c) {
      const bool inside = r >= 30 && r < 50 && c >= 40 && c < 70;
      const std::array<int, 3> rgb = inside ? std::array{220, 120, 20} : std::array{90, 110, 130};
      for (int k = 0; k < 3; ++k) picture(r, c, k) = static_cast<Byte>(rgb[k]);
    }
  BlobColourParams params;
  params.colour = "given";
  params.red = 215;
  params.green = 125;
  params.blue = 25;
  BlobColour right(params);
  (void)right.seed(frame_of(picture, 0), Box{38, 28, 34, 24});
  EXPECT_TRUE(right.follow(frame_of(picture, 1)).present);
  params.red = 20;
  params.blue = 220;
  BlobColour wrong(params);
  (void)wrong.seed(frame_of(picture, 0), Box{38, 28, 34, 24});
  EXPECT_FALSE(wrong.follow(frame_of(picture, 1)).present);
}

}  // namespace mnemon
