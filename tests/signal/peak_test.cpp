// SPDX-License-Identifier: MIT
#include <mnemon/signal/peak.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/signal/windows.hpp>

namespace mnemon {
namespace {

Image<float> random_map(int rows, int cols, std::uint64_t key) {
  Image<float> map(rows, cols);
  Random random(key);
  for (float& v : map.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return map;
}

Cell slow_highest(ImageView<const float> map) {
  Cell best;
  for (int r = 0; r < map.rows; ++r)
    for (int c = 0; c < map.cols; ++c)
      if (map(r, c) > map(best.row, best.col)) best = {r, c};
  return best;
}

double slow_sidelobe(ImageView<const float> map, Cell at, int radius) {
  std::vector<double> rest;
  for (int r = 0; r < map.rows; ++r)
    for (int c = 0; c < map.cols; ++c)
      if (std::abs(r - at.row) > radius || std::abs(c - at.col) > radius) rest.push_back(map(r, c));
  if (rest.empty()) return 0;
  const double count = static_cast<double>(rest.size());
  const double mean = std::accumulate(rest.begin(), rest.end(), 0.0) / count;
  double squares = 0;
  for (const double v : rest) squares += (v - mean) * (v - mean);
  const double spread = std::sqrt(squares / count);
  return spread > 0 ? (map(at.row, at.col) - mean) / spread : 0;
}

}  // namespace

TEST(HighestCell, AgreesWithASearch) {
  std::uint64_t key = 0;
  for (const int rows : {1, 2, 17, 33})
    for (const int cols : {1, 15, 16, 17, 40}) {
      Image<float> map = random_map(rows, cols, ++key);
      EXPECT_EQ(highest_cell(map.view()), slow_highest(map.view()));
      if (cols < 5) continue;
      ImageView<const float> part = map.view();  // with gaps between its rows
      part.data += 2;
      part.cols -= 4;
      EXPECT_EQ(highest_cell(part), slow_highest(part));
    }
}

TEST(HighestCell, IsTheFirstOfEqualOnes) {
  Image<float> map(4, 300);
  map(1, 200) = map(2, 3) = map(3, 299) = 5;
  EXPECT_EQ(highest_cell(map.view()), (Cell{1, 200}));
  EXPECT_EQ(highest_cell(Image<float>(3, 3).view()), (Cell{0, 0}));
}

TEST(PeakOffset, IsExactForAParabola) {
  for (const double x : {-0.49, -0.2, 0.0, 0.31, 0.5})
    for (const double y : {-0.4, 0.1, 0.45}) {
      Image<float> map(9, 9);
      for (int r = 0; r < 9; ++r)
        for (int c = 0; c < 9; ++c)
          map(r, c) = static_cast<float>(100 - 2 * (c - 4 - x) * (c - 4 - x) - 3 * (r - 4 - y) * (r - 4 - y));
      const Point offset = peak_offset(map.view(), {4, 4});
      EXPECT_NEAR(offset.x, x, 1e-4);
      EXPECT_NEAR(offset.y, y, 1e-4);
    }
}

TEST(PeakOffset, IsZeroOnTheBorderAndOnAPlateau) {
  Image<float> map = random_map(5, 5, 3);
  map(0, 0) = 9;
  EXPECT_EQ(peak_offset(map.view(), {0, 0}), (Point{0, 0}));
  EXPECT_EQ(peak_offset(Image<float>(5, 5).view(), {2, 2}), (Point{0, 0}));
}

TEST(PeakOffset, RefusesACellOutside) {
  const Image<float> map(5, 5);
  EXPECT_THROW((void)peak_offset(map.view(), {5, 0}), CallError);
  EXPECT_THROW((void)peak_to_sidelobe(map.view(), {0, -1}, 2), CallError);
}

TEST(PeakToSidelobe, AgreesWithItsDefinition) {
  std::uint64_t key = 50;
  for (const int rows : {1, 12, 33})
    for (const int cols : {11, 16, 50})
      for (const int radius : {0, 2, 5}) {
        Image<float> map = random_map(rows, cols, ++key);
        const Cell at{rows / 3, cols - 1};
        map(at.row, at.col) = 4;
        EXPECT_NEAR(peak_to_sidelobe(map.view(), at, radius), slow_sidelobe(map.view(), at, radius), 1e-3);
      }
}

TEST(PeakToSidelobe, IsZeroWithoutARestOrOnAFlatOne) {
  Image<float> map(5, 5);
  EXPECT_EQ(peak_to_sidelobe(map.view(), {2, 2}, 9), 0);
  for (const float level : {0.0f, 0.3f, 100.0f}) {
    std::ranges::fill(map.elements(), level);
    map(2, 2) = level + 1;
    EXPECT_EQ(peak_to_sidelobe(map.view(), {2, 2}, 1), 0);
  }
}

TEST(CosineWindow, IsSymmetricAndHighestInTheMiddle) {
  const Image<float> window = cosine_window(6, 9);
  for (int r = 0; r < 6; ++r)
    for (int c = 0; c < 9; ++c) {
      EXPECT_NEAR(window(r, c), window(5 - r, 8 - c), 1e-7);
      EXPECT_GT(window(r, c), 0);
    }
  EXPECT_NEAR(cosine_window(1, 9)(0, 4), 1, 1e-7);
}

TEST(GaussianGoal, FallsAsItShould) {
  const Image<float> goal = gaussian_goal(20, 20, {10.5, 8.5}, 3);
  EXPECT_EQ(goal(8, 10), 1.0f);
  EXPECT_NEAR(goal(8, 13), std::exp(-0.5), 1e-6);
  EXPECT_NEAR(goal(11, 13), std::exp(-1.0), 1e-6);
}

}  // namespace mnemon
