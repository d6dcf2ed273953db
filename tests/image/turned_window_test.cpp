// SPDX-License-Identifier: MIT
#include <mnemon/image/turned_window.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/image/bilinear.hpp>

namespace mnemon {
namespace {

// A slow wave: what interpolation makes of it can be told from its formula.
double wave(double x, double y) { return 120 + 60 * std::sin(0.11 * x + 0.07 * y) + 40 * std::cos(0.09 * y); }

Image<Byte> waves(int rows, int cols) {
  Image<Byte> picture(rows, cols, 3);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      for (int k = 0; k < 3; ++k) picture(r, c, k) = static_cast<Byte>(std::lround(wave(c + 0.5, r + 0.5)));
  return picture;
}

}  // namespace

TEST(TurnedWindow, ShowsThePictureAtTheTurnedPlaces) {
  const Image<Byte> picture = waves(200, 240);
  Random random(3);
  for (int i = 0; i < 40; ++i) {
    const OrientedBox window{box_around({random.uniform(90, 150), random.uniform(80, 120)},
                                        random.uniform(20, 110), random.uniform(20, 90)),
                             random.uniform(-180, 180)};
    const int rows = 8 + static_cast<int>(random.bits() % 40);
    const int cols = 8 + static_cast<int>(random.bits() % 40);
    TurnedWindow sampler(rows, cols, 110, 90);
    Image<float> out(rows, cols);
    sampler.sample_into(picture.view(), window, out.view());
    const Point middle = centre(window.box);
    // The wave bends by at most 1.3 a px². Averaging over triangles as wide as a sample and interpolating between
    // samples change it by at most that times (1/12 + 1/8) of a sample's side squared; the rest is rounding to bytes.
    const double side = std::max({1.0, window.box.w / cols, window.box.h / rows});
    const double allowed = 1 + 1.3 * (1.0 / 12 + 1.0 / 8) * side * side;
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c) {
        const Point p =
            turned({((c + 0.5) / cols - 0.5) * window.box.w, ((r + 0.5) / rows - 0.5) * window.box.h},
                   window.angle_deg);
        ASSERT_NEAR(out(r, c), wave(middle.x + p.x, middle.y + p.y), allowed) << i;
      }
  }
}

TEST(TurnedWindow, LiesBetweenPixelsWhereSamplesAreNoWider) {
  const Image<Byte> picture = waves(90, 120);
  Image<float> grey(90, 120);
  for (int r = 0; r < 90; ++r)
    for (int c = 0; c < 120; ++c) grey(r, c) = picture(r, c, 0);
  Random random(8);
  for (int i = 0; i < 30; ++i) {
    const OrientedBox window{box_around({random.uniform(-10, 130), random.uniform(-10, 100)},
                                        random.uniform(3, 30), random.uniform(3, 20)),
                             random.uniform(-180, 180)};
    TurnedWindow sampler(20, 30, 30, 20);
    Image<float> out(20, 30);
    sampler.sample_into(picture.view(), window, out.view());
    const Point middle = centre(window.box);
    for (int r = 0; r < 20; ++r)
      for (int c = 0; c < 30; ++c) {
        const Point p = turned({((c + 0.5) / 30 - 0.5) * window.box.w, ((r + 0.5) / 20 - 0.5) * window.box.h},
                               window.angle_deg);
        const Spot spot = spot_of(middle.x + p.x, middle.y + p.y, 90, 120);
        const float expected = blend(grey.view().row(spot.top), grey.view().row(spot.bottom), spot, 1, 0);
        // Places of up to 64 px in single precision, where the wave is no steeper than 11 a px, and rounding of greys.
        ASSERT_NEAR(out(r, c), expected, 11 * 64 * 1.2e-7 * 4 + 1e-4) << i;
      }
  }
}

TEST(TurnedWindow, IsAPlainWindowWhereUpright) {
  const Image<Byte> picture = waves(60, 80);
  TurnedWindow sampler(20, 30, 100, 70);
  GreyWindow plain(20, 30, 100, 70);
  for (const double angle : {0.0, 360.0}) {
    const Box box{-4.3, 7.1, 92.5, 60.2};
    Image<float> out(20, 30);
    Image<float> expected(20, 30);
    sampler.sample_into(picture.view(), {box, angle}, out.view());
    plain.sample_into(picture.view(), box, expected.view());
    EXPECT_TRUE(std::ranges::equal(out.elements(), expected.elements()));
  }
}

// Of pictures that a whole number of pixels go into, a half turn is the same samples from the other end.
TEST(TurnedWindow, IsUpsideDownAfterHalfATurn) {
  const Image<Byte> picture = waves(60, 80);
  TurnedWindow sampler(20, 30, 60, 40);
  const Box box{10, 10, 60, 40};
  Image<float> upright(20, 30);
  Image<float> out(20, 30);
  sampler.sample_into(picture.view(), {box, 0}, upright.view());
  for (const double angle : {180.0, -180.0}) {
    sampler.sample_into(picture.view(), {box, angle}, out.view());
    for (int r = 0; r < 20; ++r)
      for (int c = 0; c < 30; ++c) EXPECT_NEAR(out(r, c), upright(19 - r, 29 - c), 2.0) << angle;
  }
}

TEST(TurnedWindow, RepeatsTheEdgeFarOutside) {
  Image<Byte> picture(30, 40, 3);
  for (Byte& b : picture.elements()) b = 77;
  TurnedWindow sampler(16, 16, 60, 60);
  Image<float> out(16, 16);
  for (const Point middle : {Point{0, 0}, {-500, 20}, {40, 900}}) {
    sampler.sample_into(picture.view(), {box_around(middle, 60, 60), 31}, out.view());
    for (const float v : out.elements()) EXPECT_NEAR(v, 77, 1e-3);
  }
}

}  // namespace mnemon
