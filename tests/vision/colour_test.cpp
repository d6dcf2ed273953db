// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/vision/colour_index.hpp>
#include <mnemon/vision/colour_model.hpp>
#include <mnemon/vision/picture_search.hpp>
#include <mnemon/vision/soft_colours.hpp>

namespace mnemon {
namespace {

ColourIndex index_of(int r, int g, int b) {
  const std::array<Byte, 3> rgb{static_cast<Byte>(r), static_cast<Byte>(g), static_cast<Byte>(b)};
  return colour_index(rgb.data());
}

// A blue picture with a red box.
Image<Byte> red_on_blue(int rows, int cols, const Box& box) {
  Image<Byte> picture(rows, cols, 3);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const bool red = c >= box.x && c < box.x + box.w && r >= box.y && r < box.y + box.h;
      picture(r, c, 0) = red ? 220 : 20;
      picture(r, c, 2) = red ? 20 : 220;
    }
  return picture;
}

std::array<float, kSoftColours> soft_colours(ColourIndex colour) {
  Image<ColourIndex> indices(4, 4);
  std::ranges::fill(indices.elements(), colour);
  Image<float> cells(1, 1, kSoftColours + 2);
  soft_colours_into(indices.view(), cells.view(), 2);
  EXPECT_EQ(cells(0, 0, 0), 0);
  std::array<float, kSoftColours> out{};
  std::copy_n(cells.view().data + 2, kSoftColours, out.begin());
  return out;
}

}  // namespace

TEST(ColourIndex, HasEachColourInTheMiddleOfItsRange) {
  for (int i = 0; i < kColours; ++i) {
    const auto [r, g, b] = colour_of(static_cast<ColourIndex>(i));
    EXPECT_EQ(index_of(int(256 * r), int(256 * g), int(256 * b)), i);
  }
}

// Of a row of any length, from pixels and from their colours.
TEST(WeighColours, LooksUpWhatEachColourWeighs) {
  Random random(4);
  std::vector<float> table(kColours);
  for (float& weight : table) weight = static_cast<float>(random.uniform(0, 1));
  for (const int count : {1, 7, 16, 53}) {
    std::vector<Byte> rgb(static_cast<std::size_t>(3 * count));
    for (Byte& value : rgb) value = static_cast<Byte>(random.uniform(0, 256));
    std::vector<ColourIndex> colours;
    for (int i = 0; i < count; ++i) colours.push_back(colour_index(&rgb[static_cast<std::size_t>(3 * i)]));
    std::vector<float> by_pixels(colours.size()), by_colours(colours.size());
    weigh_colours(rgb.data(), count, table.data(), 0.5f, by_pixels.data());
    weigh_colours(colours.data(), count, table.data(), by_colours.data());
    for (std::size_t i = 0; i < colours.size(); ++i) {
      EXPECT_EQ(by_colours[i], table[colours[i]]) << i;
      EXPECT_EQ(by_pixels[i], 0.5f * table[colours[i]]) << i;
    }
  }
}

TEST(ColourWindow, TakesTheNearestPixelAndRepeatsTheEdge) {
  Random random(4);
  Image<Byte> picture(9, 13, 3);
  for (Byte& v : picture.elements()) v = static_cast<Byte>(random.uniform(0, 256));
  ColourWindow window(7, 5);
  for (const Box& box : {Box{0, 0, 13, 9}, Box{-4, -3, 30, 30}, Box{3.3, 2.7, 2, 1.5}, Box{50, 60, 5, 5}}) {
    const auto indices = window.sample(picture.view(), {box});
    for (int r = 0; r < 7; ++r)
      for (int c = 0; c < 5; ++c) {
        const int x = std::clamp(int(std::floor(box.x + (c + 0.5) * box.w / 5)), 0, 12);
        const int y = std::clamp(int(std::floor(box.y + (r + 0.5) * box.h / 7)), 0, 8);
        EXPECT_EQ(indices(r, c), colour_index(&picture(y, x)));
      }
  }
}

TEST(ColourWindow, TakesTheNearestPixelOfATurnedWindow) {
  Random random(5);
  Image<Byte> picture(30, 40, 3);
  for (Byte& v : picture.elements()) v = static_cast<Byte>(random.uniform(0, 256));
  ColourWindow window(7, 5);
  for (int i = 0; i < 50; ++i) {
    const OrientedBox box{
        {random.uniform(-5, 30), random.uniform(-4, 20), random.uniform(1, 20), random.uniform(1, 15)},
        random.uniform(-180, 180)};
    const Point middle = centre(box.box);
    const auto indices = window.sample(picture.view(), box);
    for (int r = 0; r < 7; ++r)
      for (int c = 0; c < 5; ++c) {
        const Point p =
            turned({((c + 0.5) / 5 - 0.5) * box.box.w, ((r + 0.5) / 7 - 0.5) * box.box.h}, box.angle_deg);
        const int x = std::clamp(int(std::floor(middle.x + p.x)), 0, 39);
        const int y = std::clamp(int(std::floor(middle.y + p.y)), 0, 29);
        EXPECT_EQ(indices(r, c), colour_index(&picture(y, x)));
      }
  }
}

TEST(SoftColours, AddUpToOneForEveryColour) {
  for (int i = 0; i < kColours; i += 7) {
    float sum = 0;
    for (const float share : soft_colours(static_cast<ColourIndex>(i))) {
      EXPECT_GE(share, 0);
      sum += share;
    }
    EXPECT_NEAR(sum, 1, 1e-5);
  }
}

TEST(SoftColours, PutStrongColoursIntoTheirHues) {
  const auto red = soft_colours(index_of(250, 5, 5));
  const auto green = soft_colours(index_of(5, 250, 5));
  const auto white = soft_colours(index_of(250, 250, 250));
  EXPECT_GT(red[2], 0.9);
  EXPECT_GT(green[4], 0.9);
  EXPECT_GT(white[1], 0.9);
}

TEST(ColourModel, TellsColoursOfTheTargetFromThoseAround) {
  ColourModel model;
  EXPECT_EQ(model.likelihood(5), 0.5f);
  for (int i = 0; i < 50; ++i) model.count_target(index_of(200, 20, 20));
  for (int i = 0; i < 500; ++i) model.count_surroundings(index_of(20, 20, 200));
  model.learn(1);
  EXPECT_GT(model.likelihood(index_of(200, 20, 20)), 0.95f);
  EXPECT_LT(model.likelihood(index_of(20, 20, 200)), 0.05f);
  EXPECT_NEAR(model.likelihood(index_of(20, 200, 20)), 0.5f, 1e-6);
  EXPECT_GT(model.likelihood(index_of(216, 20, 20)), 0.9f);  // one level beside
}

TEST(ColourModel, LearnsAtItsRate) {
  ColourModel model;
  model.count_target(0);
  model.count_surroundings(4095);
  model.learn(1);
  const float before = model.likelihood(0);
  for (int i = 0; i < 20; ++i) {
    model.count_surroundings(0);
    model.learn(0);
    EXPECT_EQ(model.likelihood(0), before);
  }
  model.count_surroundings(0);
  model.learn(0.5);
  EXPECT_NEAR(model.likelihood(0), 1 / 1.5, 0.02);
}

TEST(PictureSearch, FindsTheBoxOfTheRightColour) {
  for (const auto& [rows, cols] : {std::pair{120, 160}, {360, 640}, {720, 1280}}) {
    const Box box{0.6 * cols, 0.3 * rows, 0.1 * cols, 0.12 * rows};
    const Image<Byte> picture = red_on_blue(rows, cols, box);
    std::vector<float> table(kColours);
    table[colour_index(&picture(int(box.y) + 2, int(box.x) + 2))] = 1;
    PictureSearch search({cols, rows});
    const PictureSearch::Place place = search.find(picture.view(), table.data(), box.w, box.h);
    EXPECT_NEAR(place.middle.x, centre(box).x, 0.1 * box.w);
    EXPECT_NEAR(place.middle.y, centre(box).y, 0.1 * box.h);
    EXPECT_GT(place.score, 0.8);
  }
}

TEST(PictureSearch, FindsTheBestOfAllPlaces) {
  constexpr int kSide = 120;  // few enough pixels for each to be looked at
  Random random(12);
  for (int round = 0; round < 20; ++round) {
    Image<Byte> picture(kSide, kSide, 3);
    for (int disc = 0; disc < 12; ++disc) {
      const double x = random.uniform(0, kSide), y = random.uniform(0, kSide), radius = random.uniform(5, 20);
      for (int r = 0; r < kSide; ++r)
        for (int c = 0; c < kSide; ++c)
          if (std::hypot(c - x, r - y) < radius) picture(r, c) = 200;
    }
    std::vector<float> table(kColours);
    Image<float> weights(kSide, kSide);
    const Byte red[] = {200, 0, 0};
    table[colour_index(red)] = 1;
    for (int r = 0; r < kSide; ++r)
      for (int c = 0; c < kSide; ++c) weights(r, c) = table[colour_index(&picture(r, c))];
    BoxSums sums(kSide, kSide);
    sums.add_up(std::as_const(weights).view());
    for (const int side : {6, 16, 30}) {
      double best = -1;
      for (int top = 0; top + side <= kSide; ++top)
        for (int left = 0; left + side <= kSide; ++left)
          best = std::max(best, sums.contrast(left, top, side, side));
      PictureSearch search({kSide, kSide});
      const double found = search.find(picture.view(), table.data(), side, side).score;
      EXPECT_NEAR(found, best, 1e-6) << side;
    }
  }
}

TEST(PictureSearch, LeavesOutWhereItWasInVain) {
  const Box box{20, 20, 20, 20};
  const Image<Byte> picture = red_on_blue(100, 120, box);
  std::vector<float> table(kColours);
  table[colour_index(&picture(25, 25))] = 1;
  PictureSearch search({120, 100});
  const Point first = search.find(picture.view(), table.data(), 20, 20).middle;
  search.leave_out(first);
  const Point second = search.find(picture.view(), table.data(), 20, 20).middle;
  EXPECT_GE(std::max(std::abs(second.x - first.x), std::abs(second.y - first.y)), 10);
  search.start();
  EXPECT_EQ(search.find(picture.view(), table.data(), 20, 20).middle, first);
}

// What is looked for beside the target is not what a lost one is looked for by.
TEST(PictureSearch, LeavesOutOfEachSearchItsOwnPlacesAlone) {
  const Box box{20, 20, 20, 20};
  const Image<Byte> picture = red_on_blue(100, 120, box);
  std::vector<float> table(kColours);
  table[colour_index(&picture(25, 25))] = 1;
  const auto beside = [&](PictureSearch& search) {
    return search.find_beside(picture.view(), table.data(), {90, 80}, 20, 20);
  };
  PictureSearch search({120, 100});
  PictureSearch untouched({120, 100});
  const Point first = untouched.find(picture.view(), table.data(), 20, 20).middle;
  EXPECT_EQ(beside(search), first);
  EXPECT_EQ(search.find(picture.view(), table.data(), 20, 20).middle, first);
  search.leave_out(first);
  const Point second = beside(search);
  EXPECT_NE(second, first);  // as it was there before
  (void)beside(untouched);
  EXPECT_EQ(beside(untouched), second);
}

}  // namespace mnemon
