// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <utility>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/vision/block_window.hpp>
#include <mnemon/vision/box_sums.hpp>
#include <mnemon/vision/ellipse_sums.hpp>
#include <mnemon/vision/frame_mask.hpp>
#include <mnemon/vision/motion_filter.hpp>

namespace mnemon {
namespace {

Image<float> random_picture(Random& random, int rows, int cols) {
  Image<float> picture(rows, cols);
  for (float& value : picture.elements()) value = static_cast<float>(random.uniform());
  return picture;
}

// A block is the rounded mean of its pixels, those beyond the edge repeating it.
TEST(BlockWindow, IsTheMeanOfItsPixels) {
  Random random(31);
  Image<Byte> picture(23, 31, 3);
  for (Byte& byte : picture.elements()) byte = static_cast<Byte>(random.bits() & 255);
  BlockWindow window(40, 40, 9);
  for (const int block : {1, 2, 3, 7, 9})
    for (const auto& [left, top] : {std::pair{0, 0}, {-11, 4}, {20, -5}, {-40, -40}, {29, 21}}) {
      const auto cells = window.sample(std::as_const(picture).view(), left, top, 5, 6, block);
      for (int r = 0; r < 5; ++r)
        for (int c = 0; c < 6; ++c)
          for (int k = 0; k < 3; ++k) {
            int sum = 0;
            for (int i = 0; i < block; ++i)
              for (int j = 0; j < block; ++j)
                sum += picture(std::clamp(top + r * block + i, 0, 22),
                               std::clamp(left + c * block + j, 0, 30), k);
            EXPECT_EQ(cells(r, c, k), (sum + block * block / 2) / (block * block)) << block << ", " << left;
          }
    }
}

TEST(BoxSums, AreThoseOfEachCell) {
  Random random(32);
  const Image<float> picture = random_picture(random, 17, 33);
  BoxSums sums(20, 40);
  sums.add_up(picture.view());
  for (int i = 0; i < 100; ++i) {
    const int left = static_cast<int>(random.uniform(0, 32));
    const int top = static_cast<int>(random.uniform(0, 16));
    const int right = left + 1 + static_cast<int>(random.uniform(0, 32 - left));
    const int bottom = top + 1 + static_cast<int>(random.uniform(0, 16 - top));
    double sum = 0;
    for (int r = top; r < bottom; ++r)
      for (int c = left; c < right; ++c) sum += picture(r, c);
    EXPECT_NEAR(sums.mean_in(left, top, right, bottom), sum / ((right - left) * (bottom - top)), 1e-4);
  }
}

TEST(BoxSums, StandOutWhereABoxIsBrighterThanItsFrame) {
  Image<float> picture(20, 20);
  for (int r = 8; r < 12; ++r)
    for (int c = 6; c < 12; ++c) picture(r, c) = 1;
  BoxSums sums(20, 20);
  sums.add_up(std::as_const(picture).view());
  EXPECT_NEAR(sums.contrast(6, 8, 6, 4), 1, 1e-6);
  EXPECT_NEAR(sums.contrast(12, 8, 6, 4), -3.0 * 4 / (12 * 8 - 6 * 4), 0.1);
}

// Every place in turn, whatever is known beforehand: in small pictures, in wide ones, and of boxes as large as the picture.
TEST(BoxSums, FindTheBestOfSomePlaces) {
  struct Looked {
    int rows, cols, wide, high;
  };
  Random random(34);
  for (const Looked& of :
       {Looked{23, 31, 7, 4}, {40, 170, 9, 5}, {12, 90, 1, 1}, {20, 70, 70, 20}, {20, 70, 66, 3}})
    for (int round = 0; round < 20; ++round) {
      Image<float> picture = random_picture(random, of.rows, of.cols);
      // Where much is the same, ties are many.
      if (round % 2 == 1)
        for (float& value : picture.elements()) value = value < 0.9f ? 0 : 1;
      BoxSums sums(of.rows, of.cols);
      sums.add_up(picture.view());
      const auto goodness = [round](int left, int top, double contrast) {
        return (left + top) % 3 == round % 3 ? -1 : contrast - 0.001 * left;
      };
      const BoxSums::Places all = sums.all_places(of.wide, of.high);
      EXPECT_EQ(all.end_left, of.cols - of.wide + 1);
      EXPECT_EQ(all.end_top, of.rows - of.high + 1);
      const BoxSums::Places some{std::min(5, all.end_left), std::min(3, all.end_top),
                                 std::min(19, all.end_left), all.end_top};
      for (const BoxSums::Places& among : {all, some, BoxSums::Places{6, 6, 6, 9}}) {
        BoxSums::Place best{-1, -1, -0.5};
        for (int top = among.top; top < among.end_top; ++top)
          for (int left = among.left; left < among.end_left; ++left) {
            const double good = goodness(left, top, sums.contrast(left, top, of.wide, of.high));
            if (good > best.goodness) best = {left, top, good};
          }
        const BoxSums::Place found = sums.best_place(of.wide, of.high, among, {-1, -1, -0.5}, goodness);
        EXPECT_EQ(found.left, best.left);
        EXPECT_EQ(found.top, best.top);
        EXPECT_EQ(found.goodness, best.goodness);
        const BoxSums::Place better =
            sums.best_place(of.wide, of.high, among, {90, 91, best.goodness + 0.01}, goodness);
        EXPECT_EQ(better.left, 90) << "nothing is better than what is known";
        EXPECT_EQ(better.top, 91);
      }
    }
}

TEST(FrameMask, ShowsTheCellsAsFarAsTheFrameReaches) {
  Random random(35);
  FrameMask mask({30, 20});
  for (const int block : {1, 2, 5})
    for (const auto& [left, top] : {std::pair{3, 4}, {-7, -3}, {22, 15}, {40, 2}, {0, 0}}) {
      BitMask cells(9, 11);
      for (int r = 0; r < 9; ++r)
        for (int c = 0; c < 11; ++c)
          if (random.uniform() < 0.6) cells.set(r, c);
      mask.draw(cells, left, top, block);
      for (int y = 0; y < 20; ++y)
        for (int x = 0; x < 30; ++x) {
          const int r = static_cast<int>(std::floor(1.0 * (y - top) / block));
          const int c = static_cast<int>(std::floor(1.0 * (x - left) / block));
          const bool is_set = r >= 0 && c >= 0 && r < 9 && c < 11 && cells.at(r, c);
          ASSERT_EQ(mask.pixels()(y, x), is_set ? 1 : 0) << x << ", " << y << " in blocks of " << block;
        }
    }
  mask.clear();
  EXPECT_TRUE(std::ranges::all_of(mask.pixels().elements(), [](Byte byte) { return byte == 0; }));
}

TEST(EllipseSums, AreThoseOfTheCellsInside) {
  Random random(33);
  const Image<float> picture = random_picture(random, 60, 50);
  EllipseSums sums(60, 50);
  sums.add_up(picture.view());
  for (const Ellipse& ellipse :
       {Ellipse{{25, 30}, 12, 20}, {{3, 5}, 9, 7}, {{60, 70}, 5, 5}, {{20.4, 31.7}, 6.3, 4.2}}) {
    double mass = 0;
    double count = 0;
    Point middle;
    for (int r = 0; r < 60; ++r) {
      const double down = (r + 0.5 - ellipse.middle.y) / ellipse.half_h;
      if (down * down >= 1) continue;
      const double half = ellipse.half_w * std::sqrt(1 - down * down);
      for (int c = 0; c < 50; ++c) {
        if (c < std::lround(ellipse.middle.x - half) || c >= std::lround(ellipse.middle.x + half)) continue;
        mass += picture(r, c);
        ++count;
        middle = {middle.x + picture(r, c) * (c + 0.5), middle.y + picture(r, c) * (r + 0.5)};
      }
    }
    const EllipseSums::Sum found = sums.in(ellipse);
    EXPECT_EQ(found.count, count);
    EXPECT_NEAR(found.mass, mass, 1e-3);
    EXPECT_NEAR(found.middle.x, mass > 0 ? middle.x / mass : ellipse.middle.x, 1e-3);
    EXPECT_NEAR(found.middle.y, mass > 0 ? middle.y / mass : ellipse.middle.y, 1e-3);
  }
}

TEST(MotionFilter, ForecastsASteadyMotion) {
  MotionFilter filter(0.5, 0.1);
  filter.start(10, 5);
  for (int i = 1; i <= 60; ++i) {
    filter.advance();
    filter.correct(10 + 1.5 * i);
  }
  EXPECT_NEAR(filter.rate(), 1.5, 0.01);
  filter.advance();
  EXPECT_NEAR(filter.value(), 10 + 1.5 * 61, 0.05);
}

// The rule that a sighting and a forecast are weighed by their variances, on its first step worked by hand.
TEST(MotionFilter, WeighsByVariances) {
  MotionFilter filter(2, 1);
  filter.start(0, 3);
  filter.advance();
  // Variances 4 of the number and 9 of the rate: 4 + 9 + 1/4, their product 9 + 1/2.
  EXPECT_NEAR(filter.variance(), 13.25, 1e-12);
  filter.correct(10);
  EXPECT_NEAR(filter.value(), 10 * 13.25 / 17.25, 1e-12);
  EXPECT_NEAR(filter.rate(), 10 * 9.5 / 17.25, 1e-12);
  EXPECT_NEAR(filter.variance(), 13.25 * 4 / 17.25, 1e-12);
}

TEST(MotionFilter, IsLessAndLessSureUnseen) {
  MotionFilter filter(1, 0.2);
  filter.start(0, 1);
  double before = filter.variance();
  for (int i = 0; i < 20; ++i) {
    filter.advance();
    EXPECT_GT(filter.variance(), before);
    before = filter.variance();
  }
  filter.correct(3);
  EXPECT_LT(filter.variance(), 1);
}

}  // namespace
}  // namespace mnemon
