// SPDX-License-Identifier: MIT
#include <mnemon/track/kept_out.hpp>

#include <cmath>
#include <limits>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

const Polygon kTriangle{{10, 4}, {30, 4}, {10, 24}};

// Dark to the left of a column, bright from there on.
Image<Byte> halves(int rows, int cols, int column, Byte bright = 201) {
  Image<Byte> picture(rows, cols, 3);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      for (int k = 0; k < 3; ++k) picture(r, c, k) = c < column ? Byte{1} : static_cast<Byte>(bright - k);
  return picture;
}

}  // namespace

TEST(KeptOut, PaintsThePixelsWhoseMiddlesLieInside) {
  KeptOut kept_out({kTriangle});
  const Image<Byte> before = halves(30, 40, 20);
  Image<Byte> picture = copy_of(before.view());
  kept_out.paint(picture.view(), 1, 1);
  int painted = 0;
  for (int r = 0; r < 30; ++r)
    for (int c = 0; c < 40; ++c) {
      // Inside where it is to the right of 10, below 4, and above the slanted side.
      const double x = c + 0.5;
      const double y = r + 0.5;
      const bool inside = x > 10 && y > 4 && x + y < 34;
      painted += inside ? 1 : 0;
      if (!inside) {
        EXPECT_EQ(picture(r, c, 0), before(r, c, 0)) << r << ' ' << c;
      }
      EXPECT_EQ(kept_out.covers({x, y}), inside);
    }
  EXPECT_NEAR(painted, 200, 20);  // the triangle's area, to half a pixel along its slanted side
  // All in one colour: dark to the left of each run, and to the right dark beside runs that end before column 20.
  const Byte colour = picture(5, 11, 0);
  for (int r = 4; r < 24; ++r)
    for (int c = 10; c + r < 33; ++c) EXPECT_EQ(picture(r, c, 0), colour);
}

TEST(KeptOut, TakesTheMeanOfWhatIsToBothSides) {
  KeptOut kept_out({{{10, 5}, {20, 5}, {20, 15}, {10, 15}}});
  Image<Byte> picture = halves(20, 40, 15);
  kept_out.paint(picture.view(), 1, 1);
  EXPECT_EQ(picture(8, 12, 0), (1 + 201) / 2);
  EXPECT_EQ(picture(8, 18, 2), (1 + 199) / 2);
  // The colour stays on later pictures, until it is to be chosen anew.
  picture = halves(20, 40, 15, 101);
  kept_out.paint(picture.view(), 1, 1);
  EXPECT_EQ(picture(8, 12, 0), (1 + 201) / 2);
  kept_out.start();
  picture = halves(20, 40, 15, 101);
  kept_out.paint(picture.view(), 1, 1);
  EXPECT_EQ(picture(8, 12, 0), (1 + 101) / 2);
}

TEST(KeptOut, LiesAsTheFrameIsScaled) {
  KeptOut kept_out({{{10, 5}, {20, 5}, {20, 15}, {10, 15}}});
  Image<Byte> half = halves(10, 20, 0);
  kept_out.paint(half.view(), 0.5, 0.5);
  Image<Byte> marked = halves(10, 20, 0, 99);
  kept_out.paint(marked.view(), 0.5, 0.5);
  for (int r = 0; r < 10; ++r)
    for (int c = 0; c < 20; ++c)
      EXPECT_EQ(marked(r, c, 0) == 201,
                c >= 5 && c < 10 && std::lround(2 * (r + 0.5)) >= 5 && 2 * (r + 0.5) < 15)
          << r << ' ' << c;
}

TEST(KeptOut, TakesAreasBeyondTheEdgeAndOverAllOfIt) {
  KeptOut all({{{-5, -5}, {100, -5}, {100, 100}, {-5, 100}}});
  Image<Byte> picture = halves(20, 40, 15);
  all.paint(picture.view(), 1, 1);
  EXPECT_EQ(picture(0, 0, 0), 128);  // nothing is beside it
  EXPECT_EQ(picture(19, 39, 2), 128);
  KeptOut beyond({{{50, 0}, {60, 0}, {60, 10}}});
  picture = halves(20, 40, 15);
  beyond.paint(picture.view(), 1, 1);
  EXPECT_EQ(picture(0, 39, 0), 201);
}

TEST(KeptOut, RefusesWhatIsNoArea) {
  const auto message = [](const Polygon& area) {
    return test::message_of<CallError>([&] { KeptOut({area}); });
  };
  test::expect_parts(message({{1, 1}, {2, 2}}), {"three corners", "2"});
  test::expect_parts(message({{1, 1}, {2, 1}, {9, 1}}), {"on a line"});
  test::expect_parts(message({{1, 1}, {2, 1}, {std::numeric_limits<double>::quiet_NaN(), 5}}),
                     {"not finite"});
}

}  // namespace mnemon
