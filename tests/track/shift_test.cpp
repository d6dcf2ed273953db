// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/track/region_weight.hpp>
#include <mnemon/track/shift/adaptive.hpp>
#include <mnemon/track/shift/back_projection.hpp>
#include <mnemon/track/shift/fixed.hpp>
#include <mnemon/vision/colour_distribution.hpp>
#include <mnemon/vision/colour_space.hpp>

namespace mnemon {
namespace {

using Colour = std::array<double, 3>;

ColourIndex index_of(const Colour& colour) {
  const std::array<Byte, 3> rgb{static_cast<Byte>(colour[0]), static_cast<Byte>(colour[1]),
                                static_cast<Byte>(colour[2])};
  return colour_index(rgb.data());
}

// An ellipse of two colours, halves along its length, on noisy ground.
struct Drawing {
  Ellipse ellipse;
  Colour left{210, 40, 40};
  Colour right{200, 170, 30};
  Colour ground{90, 110, 100};
  double gain = 1;
  Colour tint{1, 1, 1};  // what a camera's white balance makes of each channel
};

Image<Byte> drawn(const Drawing& stage, int rows, int cols, std::uint64_t key = 5) {
  Image<Byte> picture(rows, cols, 3);
  Random random(key);
  const double radians = stage.ellipse.angle_deg * std::numbers::pi / 180;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const double x = c + 0.5 - stage.ellipse.middle.x;
      const double y = r + 0.5 - stage.ellipse.middle.y;
      const double u = (std::cos(radians) * x + std::sin(radians) * y) / stage.ellipse.half_w;
      const double v = (std::cos(radians) * y - std::sin(radians) * x) / stage.ellipse.half_h;
      const Colour& colour = u * u + v * v >= 1 ? stage.ground : u < 0 ? stage.left : stage.right;
      const double noise = random.uniform(-8, 8);
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) =
            static_cast<Byte>(std::clamp(stage.gain * stage.tint[k] * colour[k] + noise, 0.0, 255.0));
    }
  return picture;
}

Frame frame_of(const Image<Byte>& picture, int index) { return {picture.view(), index, index / 30.0}; }

// The turned boxes of a tracker seeded on the first of these stages.
template <class T, class P>
std::vector<Estimate> follow_stages(const P& params, const std::vector<Drawing>& stages) {
  T tracker(params);
  std::vector<Estimate> estimates;
  for (std::size_t i = 0; i < stages.size(); ++i) {
    const Image<Byte> picture = drawn(stages[i], 180, 240, 100 + i);
    const Frame frame = frame_of(picture, static_cast<int>(i));
    estimates.push_back(i == 0 ? tracker.seed(frame, box_of(stages[0].ellipse)) : tracker.follow(frame));
  }
  return estimates;
}

}  // namespace

TEST(ColourSpace, PutsEveryColourIntoABinOrNone) {
  for (const ColourParts parts :
       {ColourParts::hue, ColourParts::hue_saturation, ColourParts::lightness_chroma}) {
    const ColourSpace space(parts, 0.2f, 0.2f);
    int none = 0;
    for (int i = 0; i < kColours; ++i) {
      const int bin = space.bin_of(static_cast<ColourIndex>(i));
      EXPECT_TRUE(bin >= ColourSpace::kNone && bin < space.bins());
      none += bin == ColourSpace::kNone ? 1 : 0;
    }
    EXPECT_EQ(none > 0, parts != ColourParts::lightness_chroma);
    EXPECT_LE(space.bins(), ColourSpace::kMostBins);
  }
}

TEST(ColourSpace, LeavesDullAndDarkColoursWithoutAHue) {
  const ColourSpace space(ColourParts::hue, 0.3f, 0.3f);
  EXPECT_EQ(space.bin_of(index_of({120, 120, 120})), ColourSpace::kNone);
  EXPECT_EQ(space.bin_of(index_of({40, 8, 8})), ColourSpace::kNone);
  EXPECT_EQ(space.bin_of(index_of({250, 4, 4})), space.bin_of(index_of({150, 4, 4})));  // shaded
  EXPECT_NE(space.bin_of(index_of({250, 4, 4})), space.bin_of(index_of({4, 250, 4})));
}

TEST(ColourSpace, IsChosenByTheTarget) {
  std::vector<float> red(kColours), grey_ground(kColours), light(kColours), dark(kColours);
  red[index_of({220, 30, 30})] = 50;
  red[index_of({140, 20, 20})] = 50;
  grey_ground[index_of({120, 120, 120})] = 100;
  light[index_of({220, 220, 220})] = 100;
  dark[index_of({60, 60, 60})] = 100;
  EXPECT_EQ(choose_space(red, grey_ground).parts(), ColourParts::hue);
  EXPECT_EQ(choose_space(light, dark).parts(), ColourParts::lightness_chroma);
}

TEST(ColourDistribution, WeighsColoursByHowRareTheyAreAround) {
  ColourDistribution colours;
  const ColourIndex own = index_of({220, 30, 30});
  const ColourIndex shared = index_of({30, 30, 220});
  const ColourIndex other = index_of({30, 220, 30});
  for (int i = 0; i < 50; ++i) {
    colours.count_target(own, 1);
    colours.count_target(shared, 1);
    colours.count_around(shared, 1);
    colours.count_around(other, 1);
  }
  colours.learn(1, 1);
  EXPECT_GT(colours.weights()[own], 0.9f);
  EXPECT_LT(colours.weights()[shared], 0.05f);
  EXPECT_EQ(colours.weights()[other], 0);
}

TEST(ColourDistribution, LikenessIsOneForTheSameColoursAndNoneForOthers) {
  ColourDistribution colours;
  for (int i = 0; i < 10; ++i)
    colours.count_target(static_cast<ColourIndex>(300 * i), 1.0f + static_cast<float>(i));
  colours.learn(1, 1);
  for (int i = 0; i < 10; ++i)
    colours.count_target(static_cast<ColourIndex>(300 * i), 2.0f + 2.0f * static_cast<float>(i));
  EXPECT_NEAR(colours.likeness(), 1, 1e-6);
  colours.forget_counts();
  colours.count_target(4095, 1);
  EXPECT_LT(colours.likeness(), 0.4);
}

TEST(BackProjection, MomentsAreTheSumsOverItsSamples) {
  const Drawing stage{{{60, 50}, 25, 14, 30}};
  const Image<Byte> picture = drawn(stage, 100, 120);
  std::vector<float> table(kColours);
  Random random(8);
  for (float& weight : table) weight = static_cast<float>(random.uniform());
  BackProjection back;
  back.look(picture.view(), {5.5, -3, 110, 100}, table.data());
  for (const Ellipse& ellipse : {Ellipse{{60, 50}, 30, 20, 25}, Ellipse{{20, 90}, 15, 40, -70},
                                 Ellipse{{60, 47}, 200, 200, 0}, Ellipse{{60, 47}, 0.4, 0.4, 0}}) {
    double count = 0, mass = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;
    const double radians = ellipse.angle_deg * std::numbers::pi / 180;
    for (int r = 0; r < BackProjection::kSide; ++r)
      for (int c = 0; c < BackProjection::kSide; ++c) {
        const double px = 5.5 + (c + 0.5) * 110 / BackProjection::kSide;
        const double py = -3 + (r + 0.5) * 100 / BackProjection::kSide;
        const double dx = px - ellipse.middle.x;
        const double dy = py - ellipse.middle.y;
        const double u = (std::cos(radians) * dx + std::sin(radians) * dy) / ellipse.half_w;
        const double v = (std::cos(radians) * dy - std::sin(radians) * dx) / ellipse.half_h;
        if (u * u + v * v >= 1) continue;
        const double w = back.weights()(r, c);
        count += 1, mass += w, x += w * px, y += w * py;
        xx += w * px * px, xy += w * px * py, yy += w * py * py;
      }
    const Moments moments = back.moments_in(ellipse);
    EXPECT_NEAR(moments.count, count, 2);  // samples on the very edge
    EXPECT_NEAR(moments.mass, mass, 2 + 1e-4 * mass);
    if (mass < 100) continue;
    EXPECT_NEAR(moments.middle.x, x / mass, 0.05);
    EXPECT_NEAR(moments.middle.y, y / mass, 0.05);
    EXPECT_NEAR(moments.xx, xx / mass - x / mass * x / mass, 0.02 * moments.xx);
    EXPECT_NEAR(moments.yy, yy / mass - y / mass * y / mass, 0.02 * moments.yy);
    EXPECT_NEAR(moments.xy, xy / mass - x / mass * y / mass, 0.02 * (moments.xx + moments.yy));
  }
}

TEST(RegionWeight, FollowsEachFormOfRegion) {
  const Polygon triangle{{0, 0}, {20, 0}, {0, 20}};
  const Ellipse ellipse = ellipse_of(Region(triangle), bounds(triangle));
  EXPECT_EQ(weight_in(triangle, ellipse, {4, 4}), 1);
  EXPECT_EQ(weight_in(triangle, ellipse, {16, 16}), 0);
  Image<Byte> mask(20, 20);
  mask(3, 5) = 1;
  EXPECT_EQ(weight_in(std::as_const(mask).view(), ellipse, {5.5, 3.5}), 1);
  EXPECT_EQ(weight_in(std::as_const(mask).view(), ellipse, {6.5, 3.5}), 0);
  EXPECT_EQ(weight_in(std::as_const(mask).view(), ellipse, {-3, 50}), 0);
  EXPECT_EQ(weight_in(Box{0, 0, 20, 20}, ellipse, {10, 10}), 1);
  EXPECT_EQ(weight_in(Box{0, 0, 20, 20}, ellipse, {20, 10}), 0);
  const OrientedBox turned{{0, 5, 20, 10}, 90};
  EXPECT_NEAR(weight_in(turned, ellipse_of(turned, {5, 0, 10, 20}), {10, 18}), 1 - 0.64, 1e-9);
}

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

TEST(ShiftAdaptive, FollowsSizeAndTurn) {
  std::vector<Drawing> stages;
  for (int i = 0; i < 40; ++i) {
    const double growth = std::exp(0.015 * i);
    stages.push_back({{{110, 90}, 26 * growth, 13 * growth, 2.0 * i}});
  }
  const auto estimates = follow_stages<ShiftAdaptive>(ShiftAdaptiveParams{}, stages);
  for (std::size_t i = 5; i < stages.size(); ++i) {
    EXPECT_NEAR(folded_angle_deg(estimates[i].box.angle_deg - stages[i].ellipse.angle_deg), 0, 12) << i;
    EXPECT_NEAR(std::sqrt(estimates[i].box.box.w * estimates[i].box.box.h) /
                    (2 * std::sqrt(stages[i].ellipse.half_w * stages[i].ellipse.half_h)),
                1, 0.15)
        << i;
  }
}

// The longer axis of a mask, degrees, and the ratio of its axes, by its second moments.
std::pair<double, double> axis_of(const Image<Byte>& mask) {
  double n = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c)
      if (mask(r, c) != 0) {
        n += 1;
        x += c;
        y += r;
        xx += double(c) * c;
        xy += double(c) * r;
        yy += double(r) * r;
      }
  if (n == 0) return {0, 1};
  const double a = xx / n - x / n * (x / n);
  const double b = xy / n - x / n * (y / n);
  const double d = yy / n - y / n * (y / n);
  const double spread = std::hypot((a - d) / 2, b);
  return {std::atan2(2 * b, a - d) / 2 * 180 / std::numbers::pi,
          std::sqrt(((a + d) / 2 + spread) / std::max(1e-9, (a + d) / 2 - spread))};
}

TEST(ShiftAdaptive, TurnsWithAKiteThatLoops) {
  std::vector<double> errors;
  for (const int number : {1, 2, 3}) {
    const Scene scene(demo_scene("loops"), {}, number);
    ShiftAdaptive tracker{ShiftAdaptiveParams{}};
    for (std::size_t i = 0; i < scene.truth().rows.size(); ++i) {
      const Image<Byte> picture = scene.render(static_cast<int>(i));
      const Frame frame{picture.view(), static_cast<int>(i), static_cast<double>(i) / 30};
      const OrientedBox box =
          i == 0 ? tracker.seed(frame, scene.truth().rows[0].box.box).box : tracker.follow(frame).box;
      const auto [axis_deg, ratio] = axis_of(scene.mask(static_cast<int>(i)));
      if (ratio < 1.15) continue;  // nearly as wide as long: it has no axis
      const double along_deg = box.angle_deg + (box.box.w > box.box.h ? 0 : 90);
      errors.push_back(std::abs(folded_angle_deg(axis_deg - along_deg)));
    }
  }
  ASSERT_GT(errors.size(), 300);
  std::ranges::nth_element(errors, errors.begin() + errors.size() / 2);
  EXPECT_LT(errors[errors.size() / 2], 12);
}

TEST(ShiftAdaptive, NeitherSwellsNorCollapses) {
  std::vector<Drawing> stages;
  // The right half is nearly the colour of the ground.
  for (int i = 0; i < 60; ++i)
    stages.push_back({{{80.0 + i, 90}, 24, 16, 0}, {210, 40, 40}, {120, 120, 90}, {95, 110, 100}});
  const auto estimates = follow_stages<ShiftAdaptive>(ShiftAdaptiveParams{}, stages);
  for (const Estimate& estimate : estimates) {
    const double share = estimate.box.box.w * estimate.box.box.h / (48 * 32);
    EXPECT_GT(share, 0.45);
    EXPECT_LT(share, 1.6);
  }
}

TEST(ShiftAdaptive, TakesEveryFormOfSeed) {
  const Drawing stage{{{110, 90}, 30, 15, 0}};
  const Image<Byte> picture = drawn(stage, 180, 240);
  Image<Byte> mask(180, 240);
  for (int r = 0; r < 180; ++r)
    for (int c = 0; c < 240; ++c)
      mask(r, c) = std::pow((c - 109.5) / 30, 2) + std::pow((r - 89.5) / 15, 2) < 1 ? 1 : 0;
  const std::vector<Region> regions{Box{80, 75, 60, 30}, OrientedBox{{80, 75, 60, 30}, 0},
                                    Polygon{{80, 90}, {110, 75}, {140, 90}, {110, 105}},
                                    std::as_const(mask).view()};
  for (const Region& region : regions) {
    ShiftAdaptive tracker{ShiftAdaptiveParams{}};
    const Estimate first = tracker.seed(frame_of(picture, 0), region);
    EXPECT_GT(overlap(first.box.box, Box{80, 75, 60, 30}), 0.95);
    const Estimate next = tracker.follow(frame_of(picture, 1));
    EXPECT_TRUE(next.present);
    EXPECT_GT(overlap(next.box, first.box), 0.8);
  }
}

}  // namespace mnemon
