// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <cmath>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/track/blob/colour.hpp>
#include <mnemon/track/blob/motion.hpp>

#include "support/drawn_target.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

using test::DrawnTarget;
using test::frame_of;
using Targets = std::vector<DrawnTarget>;

// Three pieces: a disc, a bar as broad but larger, and a small square.
BitMask three_pieces() {
  BitMask mask(100, 200);
  for (int r = 0; r < 100; ++r)
    for (int c = 0; c < 60; ++c)
      if (std::hypot(r + 0.5 - 50, c + 0.5 - 40) < 15) mask.set(r, c);
  for (int r = 20; r < 90; ++r) mask.set_run(r, 90, 115);
  for (int r = 45; r < 57; ++r) mask.set_run(r, 150, 162);
  return mask;
}

Point picked(const std::string& rule, Point expected) {
  PickRules rules;
  rules.pick = rule;
  rules.least_area = 0;
  rules.most_area = 100;
  rules.close = 0;
  PiecePicker picker(100, 200, rules);
  BitMask mask = three_pieces();
  const Piece* piece = picker.pick(mask, {box_around(expected, 30, 30), 700}, {0, 0, 200, 100});
  return piece == nullptr ? Point{-1, -1} : piece->middle;
}

TEST(PiecePicker, GoesByTheRule) {
  EXPECT_NEAR(picked("largest", {150, 50}).x, 102.5, 1e-9);
  EXPECT_NEAR(picked("smallest", {40, 50}).x, 156, 1e-9);
  EXPECT_NEAR(picked("roundest", {150, 50}).x, 40, 0.1);
  EXPECT_NEAR(picked("nearest", {140, 50}).x, 156, 1e-9);
  EXPECT_NEAR(picked("alike", {60, 50}).x, 40, 0.1);
}

TEST(PiecePicker, KeepsToItsGateSizeAndForm) {
  PickRules rules;
  rules.close = 0;
  rules.most_area = 2;
  rules.least_area = 0.5;
  const ExpectedPiece disc{box_around({40, 50}, 30, 30), 707};
  const auto pick = [&](const PickRules& by, const Box& gate) {
    PiecePicker picker(100, 200, by);
    BitMask mask = three_pieces();
    const Piece* piece = picker.pick(mask, disc, gate);
    return piece == nullptr ? -1 : piece->area;
  };
  EXPECT_NEAR(pick(rules, {0, 0, 200, 100}), 707, 10);
  EXPECT_EQ(pick(rules, {80, 0, 100, 100}), -1);  // the bar is too large, the square too small
  rules.most_area = 3;
  EXPECT_EQ(pick(rules, {80, 0, 100, 100}), 70 * 25);
  rules.least_circularity = 0.9;
  EXPECT_EQ(pick(rules, {80, 0, 100, 100}), -1);
  rules.least_circularity = 0;
  rules.least_rectangularity = 0.9;
  EXPECT_EQ(pick(rules, {0, 0, 80, 100}), -1);  // a disc fills pi / 4 of its box
}

TEST(PiecePicker, CutsOffWhatRunsBeyond) {
  PiecePicker picker(100, 200, {});
  BitMask mask = three_pieces();
  const Piece* piece = picker.clip(mask, {85, 30, 40, 10});
  ASSERT_NE(piece, nullptr);
  EXPECT_EQ(piece->box(), (Box{90, 30, 25, 10}));
  BitMask empty(100, 200);
  EXPECT_EQ(picker.clip(empty, {0, 0, 100, 100}), nullptr);
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

std::string refusal_of(const std::string& chain) {
  return test::message_of<CallError>([&] {
    BlobMotionParams params;
    params.chain = chain;
    const BlobMotion tracker(params);
  });
}

TEST(Preparation, RefusesChainsThatMakeNoSense) {
  EXPECT_NE(refusal_of("blur grey").find("'grey' is the first step"), std::string::npos);
  EXPECT_NE(refusal_of("grey shadows").find("'shadows' needs a 'background'"), std::string::npos);
  EXPECT_NE(refusal_of("grey blur blur").find("there twice"), std::string::npos);
}

Image<Byte> plain(int rows, int cols, int level) {
  Image<Byte> picture(rows, cols, 3);
  std::ranges::fill(picture.elements(), static_cast<Byte>(level));
  return picture;
}

TEST(Preparation, MakesGreyAndCurves) {
  PreparationRules rules;
  rules.chain = "grey gamma";
  rules.gamma = 2;
  Preparation preparation;
  const Image<Byte> picture = plain(3, 4, 100);
  preparation.start(picture.view(), {0, 0, 1, 1}, rules);
  EXPECT_NEAR(preparation.result()(1, 1), Preparation::kFull * std::pow(100 / 255.0, 2), 1);
}

TEST(Preparation, DifferenceIsHalfAtItsLevel) {
  PreparationRules rules;
  rules.chain = "grey difference";
  rules.difference_level = 20;
  Preparation preparation;
  preparation.start(plain(2, 2, 100).view(), {0, 0, 1, 1}, rules);
  EXPECT_EQ(preparation.result()(0, 0), 0);
  EXPECT_NEAR(preparation.prepare(plain(2, 2, 120).view(), {})(0, 0), 0.5 * Preparation::kFull,
              0.01 * Preparation::kFull);
  EXPECT_EQ(preparation.prepare(plain(2, 2, 120).view(), {})(0, 0), 0);
}

TEST(Preparation, AveragesOverFrames) {
  PreparationRules rules;
  rules.chain = "grey average";
  rules.average_rate = 0.25;
  Preparation preparation;
  preparation.start(plain(2, 2, 80).view(), {0, 0, 1, 1}, rules);
  EXPECT_NEAR(preparation.prepare(plain(2, 2, 160).view(), {})(1, 1), 100 * Preparation::kLevel, 2);
  EXPECT_NEAR(preparation.prepare(plain(2, 2, 160).view(), {})(1, 1), 115 * Preparation::kLevel, 2);
}

TEST(Preparation, BlursAsPixelByPixel) {
  Random random(9);
  Image<Byte> picture(9, 13, 3);
  for (Byte& byte : picture.elements()) byte = static_cast<Byte>(random.bits() & 255);
  PreparationRules rules;
  rules.chain = "grey";
  Preparation grey;
  grey.start(picture.view(), {0, 0, 1, 1}, rules);
  rules.chain = "grey blur";
  for (const int radius : {1, 2, 3, 5, 12, 25}) {  // the widest reach far beyond the picture
    rules.blur_px = 2 * radius + 1;
    Preparation blurred;
    blurred.start(picture.view(), {0, 0, 1, 1}, rules);
    for (int r = 0; r < 9; ++r)
      for (int c = 0; c < 13; ++c) {
        double sum = 0;
        for (int i = -radius; i <= radius; ++i)
          for (int j = -radius; j <= radius; ++j)
            sum += grey.result()(std::clamp(r + i, 0, 8), std::clamp(c + j, 0, 12));
        const double mean = sum / (rules.blur_px * rules.blur_px);
        // Each pass rounds down, and so is the share of a width in 2^16.
        EXPECT_NEAR(blurred.result()(r, c), mean, 4 + 2e-3 * mean) << radius << ": " << r << ", " << c;
      }
  }
}

// Noise stays below the threshold, what is further off than k deviations does not, and a shadow is left out.
TEST(Preparation, TellsMotionFromNoiseAndShadows) {
  PreparationRules rules;
  rules.chain = "grey background shadows";
  rules.sigmas = 4;
  Random random(10);
  const auto noisy = [&](int level) {
    Image<Byte> picture = plain(20, 20, level);
    for (Byte& byte : picture.elements())
      byte = static_cast<Byte>(byte + static_cast<int>(random.uniform(-5, 5)));
    return picture;
  };
  Preparation preparation;
  preparation.start(noisy(120).view(), {0, 0, 1, 1}, rules);
  for (int i = 0; i < 60; ++i) preparation.prepare(noisy(120).view(), {});
  const auto matches = [&](const Image<Byte>& picture) {
    int count = 0;
    for (const auto value : preparation.prepare(picture.view(), {}).elements())
      count += 2 * value > Preparation::kFull ? 1 : 0;
    return count;
  };
  EXPECT_LE(matches(noisy(120)), 4);
  EXPECT_GE(matches(noisy(190)), 396);
  EXPECT_LE(matches(noisy(84)), 20);   // 0.7 of the background: a shadow
  EXPECT_GE(matches(noisy(40)), 380);  // 0.33 of it is not
}

// The background behind the target is what was seen there before it came, and not a guess.
TEST(BlobMotion, LearnsTheBackgroundFromFramesBeforeTheTarget) {
  const Box box{36, 32, 48, 36};
  const auto ground = [](int seed) {
    return test::drawn_picture(std::vector<test::DrawnTarget>{}, 100, 140, seed);
  };
  // How far the background is off behind the target, in levels (root of the mean square).
  const auto off = [&](int watched) {
    BlobMotionParams params;
    params.chain = "grey background";
    BlobMotion tracker(params);
    EXPECT_TRUE(tracker.watches());
    for (int i = 0; i < watched; ++i) tracker.watch(test::frame_of(ground(40 + i), i));
    Image<Byte> with = ground(100);
    for (int r = 32; r < 68; ++r) std::fill_n(&with(r, 36), 3 * 48, Byte{250});
    (void)tracker.seed(test::frame_of(with, 60), box);
    const auto stages = tracker.stages();
    const auto background = std::ranges::find(stages, "background", &Stage::name)->picture;
    const Image<Byte> without = ground(99);
    double sum = 0;
    for (int r = 32; r < 68; ++r)
      for (int c = 36; c < 84; ++c) {
        const double grey = 0.299 * without(r, c, 0) + 0.587 * without(r, c, 1) + 0.114 * without(r, c, 2);
        sum += (background(r, c) - grey) * (background(r, c) - grey);
      }
    return std::sqrt(sum / (36 * 48));
  };
  // Noise of 4 levels in each colour is some 2.7 in grey; a guess from the box's edges misses the ground's waves.
  EXPECT_LT(off(20), 4.5);
  EXPECT_GT(off(0), 7);
}

// Where the target rested before it was marked, the watched background holds it: there the background is guessed.
TEST(BlobMotion, DoesNotTakeATargetThatRestedForBackground) {
  const auto picture = [](double x, int seed) {
    return test::drawn_picture(Targets{{{{x, 50}, 24, 18, 0}}}, 100, 200, seed);
  };
  BlobMotionParams params;
  params.chain = "grey background";
  BlobMotion tracker(params);
  for (int i = 0; i < 30; ++i) tracker.watch(test::frame_of(picture(60, 70 + i), i));
  (void)tracker.seed(test::frame_of(picture(60, 100), 30), test::box_around_drawn({{60, 50}, 24, 18, 0}));
  double least = 1;
  for (int i = 1; i <= 25; ++i) {
    const Estimate estimate = tracker.follow(test::frame_of(picture(60 + 3 * i, 100 + i), 30 + i));
    least =
        std::min(least, overlap(estimate.box.box, test::box_around_drawn({{60 + 3.0 * i, 50}, 24, 18, 0})));
  }
  EXPECT_GT(least, 0.5);
}

// What was watched is used once: a second seeding is as new, and so is one of frames of another size.
TEST(BlobMotion, ForgetsWhatItWatchedOnceSeeded) {
  const test::DrawnTarget target{{{60, 50}, 24, 18, 0}};
  const Box box = test::box_around_drawn(target.ellipse);
  const Image<Byte> with = test::drawn_picture(std::vector{target}, 100, 140, 7);
  const Image<Byte> moved =
      test::drawn_picture(std::vector{test::DrawnTarget{{{66, 52}, 24, 18, 0}}}, 100, 140, 8);
  const Image<Byte> other(50, 60, 3);
  const Image<Byte> empty = test::drawn_picture(std::vector<test::DrawnTarget>{}, 100, 140, 6);
  BlobMotion fresh({});
  (void)fresh.seed(test::frame_of(with, 0), box);
  const Estimate wanted = fresh.follow(test::frame_of(moved, 1));
  for (const Image<Byte>* watched : {&empty, &other}) {
    BlobMotion used({});
    used.watch(test::frame_of(*watched, 0));
    (void)used.seed(test::frame_of(with, 1), box);
    if (watched == &empty) (void)used.seed(test::frame_of(with, 2), box);
    EXPECT_EQ(used.follow(test::frame_of(moved, 3)).box, wanted.box);
  }
}

TEST(BlobMotion, FollowsWhatMovesOverStillGround) {
  BlobMotion tracker(BlobMotionParams{});
  double least = 1;
  for (int i = 0; i < 50; ++i) {
    const Ellipse ellipse{{40 + 2.5 * i, 80}, 16, 13, 0};
    const Image<Byte> picture = test::drawn_picture(Targets{{ellipse}}, test::kRows, test::kCols, 500 + i);
    const Box right = test::box_around_drawn(ellipse);
    const Estimate estimate = test::seed_or_follow(tracker, frame_of(picture, i), right);
    least = std::min(least, overlap(estimate.box.box, right));
  }
  EXPECT_GT(least, 0.5);
}

}  // namespace
}  // namespace mnemon
