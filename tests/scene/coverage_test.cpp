// SPDX-License-Identifier: MIT
#include <mnemon/scene/coverage.hpp>

#include <cmath>
#include <numbers>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/geometry/polygon.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

// A star-shaped outline about a middle: it does not cross itself, but is far from convex.
Polygon random_outline(Random& random, Point middle, double reach) {
  Polygon outline;
  const int corners = 3 + static_cast<int>(random.bits() % 9);
  for (int i = 0; i < corners; ++i) {
    const double turn = 2 * std::numbers::pi * (i + random.uniform(0, 0.9)) / corners;
    const double radius = reach * random.uniform(0.2, 1);
    outline.push_back({middle.x + radius * std::cos(turn), middle.y + radius * std::sin(turn)});
  }
  return outline;
}

bool is_inside(const Polygon& outline, Point p) {
  bool inside = false;
  for (std::size_t i = 0, j = outline.size() - 1; i < outline.size(); j = i++) {
    const Point a = outline[i];
    const Point b = outline[j];
    if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}

double counted_cover(const Polygon& outline, int row, int col, int side) {
  int inside = 0;
  for (int i = 0; i < side; ++i)
    for (int j = 0; j < side; ++j)
      inside += is_inside(outline, {col + (j + 0.5) / side, row + (i + 0.5) / side}) ? 1 : 0;
  return static_cast<double>(inside) / (side * side);
}

double sum_of_cover(CoverageTile& tile, const Polygon& outline) {
  tile.add(outline);
  const auto cover = tile.finish();
  double sum = 0;
  for (int r = 0; r < cover.rows; ++r)
    for (int c = 0; c < cover.cols; ++c) sum += cover(r, c);
  return sum;
}

}  // namespace

TEST(Coverage, OfARectangleIsItsShareOfEachPixel) {
  CoverageTile tile(4, 4);
  tile.place(0, 0, 4, 4);
  tile.add(Polygon{{0.5, 1.25}, {3, 1.25}, {3, 2.5}, {0.5, 2.5}});
  const auto cover = tile.finish();
  const float right[4][4] = {{0, 0, 0, 0}, {0.375f, 0.75f, 0.75f, 0}, {0.25f, 0.5f, 0.5f, 0}, {0, 0, 0, 0}};
  for (int r = 0; r < 4; ++r)
    for (int c = 0; c < 4; ++c) EXPECT_NEAR(cover(r, c), right[r][c], 1e-6) << r << " " << c;
}

TEST(Coverage, AddsUpToTheArea) {
  Random random(1);
  CoverageTile tile(60, 60);
  for (int i = 0; i < 300; ++i) {
    const Polygon outline = random_outline(random, {random.uniform(25, 35), random.uniform(25, 35)}, 24);
    tile.place(0, 0, 60, 60);
    EXPECT_NEAR(sum_of_cover(tile, outline), std::abs(signed_area(outline)), 2e-3);
  }
}

TEST(Coverage, AgreesWithCountedPointsInAndOutOfTheTile) {
  Random random(2);
  CoverageTile tile(16, 16);
  for (int i = 0; i < 60; ++i) {
    // Middles anywhere about the tile, so that outlines are cut off on every side.
    const Polygon outline =
        random_outline(random, {100 + random.uniform(-8, 24), 50 + random.uniform(-8, 24)}, 14);
    tile.place(50, 100, 16, 16);
    tile.add(outline);
    const auto cover = tile.finish();
    for (int r = 0; r < 16; ++r)
      for (int c = 0; c < 16; ++c)
        // An edge crosses at most about 2 * 24 of the 576 points' cells, each by half at most; few edges meet
        // in one.
        ASSERT_NEAR(cover(r, c), counted_cover(outline, 50 + r, 100 + c, 24), 0.06)
            << i << ": " << r << " " << c;
  }
}

TEST(Coverage, DoesNotCareForTheDirection) {
  Random random(3);
  CoverageTile tile(40, 40);
  const Polygon outline = random_outline(random, {20, 20}, 18);
  const Polygon back(outline.rbegin(), outline.rend());
  tile.place(0, 0, 40, 40);
  const double one = sum_of_cover(tile, outline);
  tile.place(0, 0, 40, 40);
  EXPECT_NEAR(sum_of_cover(tile, back), one, 1e-4);
}

TEST(FractalTexture, RepeatsWithoutASeamAndStaysInRange) {
  const Image<float> texture = fractal_texture(40, 128, {32, 16, 5}, 9);
  double widest = 0;
  double seam = 0;
  for (int r = 0; r < 40; ++r) {
    for (int c = 1; c < 128; ++c)
      widest = std::max<double>(widest, std::abs(texture(r, c) - texture(r, c - 1)));
    seam = std::max<double>(seam, std::abs(texture(r, 0) - texture(r, 127)));
    for (int c = 0; c < 128; ++c) EXPECT_TRUE(texture(r, c) >= 0 && texture(r, c) <= 1);
  }
  EXPECT_LE(seam, 1.2 * widest);
}

// Each layer a value a corner of its cells, and smooth steps between them; one with a row of cells a row of pixels too.
TEST(FractalTexture, IsTheSumOfItsLayers) {
  constexpr std::uint64_t kKey = 77;
  constexpr int kRows = 23;
  constexpr int kCols = 60;
  const Image<float> texture = fractal_texture(kRows, kCols, {20, 4.5, 4}, kKey);
  for (int r = 0; r < kRows; ++r)
    for (int c = 0; c < kCols; ++c) {
      double sum = 0;
      for (int layer = 0; layer < 4; ++layer) {
        const double share = std::ldexp(1.0, -layer);
        const auto across = static_cast<int>(std::lround(kCols / (20 * share)));
        const double x = 1.0 * c * across / kCols;
        const double y = r / std::max(1.0, 4.5 * share);
        const auto corner = [&](int down, int right) {
          const auto row = static_cast<std::uint64_t>(static_cast<int>(y) + down);
          const auto col = static_cast<std::uint64_t>((static_cast<int>(x) + right) % across);
          return Random(mix_bits(kKey + layer) ^ mix_bits(row << 32 | col)).uniform();
        };
        const auto between = [&](int down) {
          return std::lerp(corner(down, 0), corner(down, 1), smooth_step(x - std::floor(x)));
        };
        sum += share * std::lerp(between(0), between(1), smooth_step(y - std::floor(y)));
      }
      ASSERT_NEAR(texture(r, c), sum / 1.875, 1e-5) << r << " " << c;
    }
}

TEST(SmoothNoise, IsContinuousAndWithinItsRange) {
  for (double at = -5; at < 5; at += 0.01) {
    const double here = smooth_noise(at, 4);
    EXPECT_LE(std::abs(here), 1);
    // The steepest a smooth step between -1 and 1 can be is 2 * 1.5 a unit.
    EXPECT_NEAR(smooth_noise(at + 0.001, 4), here, 0.0031);
  }
}

}  // namespace mnemon
