// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/adaptive.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/scene/scene.hpp>

#include "track/shift/drawing.hpp"

namespace mnemon {
namespace {

using test::Colour;
using test::Drawing;
using test::drawn;
using test::follow_stages;
using test::frame_of;

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

}  // namespace

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
