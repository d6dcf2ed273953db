// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/shape_fit.hpp>

#include <gtest/gtest.h>

#include "track/shift/drawing.hpp"

namespace mnemon {
namespace {

constexpr Ellipse kLong{{110, 80}, 34, 16, 0};

// Looks at a drawing some times, fitting each time from what came before.
Ellipse fitted_to(const Ellipse& drawn, int times, const ShapeFit::Limits& limits) {
  const Image<Byte> first = test::drawn({kLong}, 160, 220);
  ColourTarget target;
  target.start(test::frame_of(first, 0), box_of(kLong), box_of(kLong).box, ShiftRules{});
  ShapeFit fit(target, kLong, limits);
  Ellipse ellipse = kLong;
  for (int i = 1; i <= times; ++i) {
    const Image<Byte> picture = test::drawn({drawn}, 160, 220, static_cast<std::uint64_t>(i));
    target.look(test::frame_of(picture, i), ellipse);
    target.shift(ellipse);
    fit.fit(target, ellipse);
  }
  return ellipse;
}

}  // namespace

TEST(ShapeFit, KeepsWhatWasMarkedWhereNothingChanges) {
  const Ellipse kept = fitted_to(kLong, 6, {});
  EXPECT_NEAR(kept.half_w, 34, 3);
  EXPECT_NEAR(kept.half_h, 16, 2);
  EXPECT_NEAR(kept.angle_deg, 0, 4);
}

TEST(ShapeFit, GrowsWithTheTarget) {
  const Ellipse grown_one = fitted_to({{110, 80}, 42, 20, 0}, 8, {});
  EXPECT_NEAR(grown_one.half_w, 42, 4);
  EXPECT_NEAR(grown_one.half_h, 20, 3);
}

TEST(ShapeFit, GrowsNoFasterThanItMay) {
  const Ellipse once = fitted_to({{110, 80}, 51, 24, 0}, 1, {1.05, 0.5, true});
  EXPECT_LE(once.half_w, 34 * 1.05 + 1e-9);
  EXPECT_LE(once.half_h, 16 * 1.05 + 1e-9);
}

TEST(ShapeFit, TurnsWithTheTargetWhereItMay) {
  const Ellipse turned_one{{110, 80}, 34, 16, 20};
  EXPECT_NEAR(fitted_to(turned_one, 10, {}).angle_deg, 20, 5);
  EXPECT_EQ(fitted_to(turned_one, 10, {1.1, 0.5, false}).angle_deg, 0);
}

}  // namespace mnemon
