// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/back_projection.hpp>

#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

#include "track/shift/drawing.hpp"

namespace mnemon {
namespace {

using test::Colour;
using test::Drawing;
using test::drawn;

}  // namespace

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

}  // namespace mnemon
