// SPDX-License-Identifier: MIT
#include <mnemon/media/canvas.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

Image<Byte> even(int rows, int cols, Byte level) {
  Image<Byte> picture(rows, cols, 3);
  std::ranges::fill(picture.elements(), level);
  return picture;
}

bool differs(const Image<Byte>& picture, int r, int c, Byte level) {
  return picture(r, c, 0) != level || picture(r, c, 1) != level || picture(r, c, 2) != level;
}

}  // namespace

TEST(Canvas, KeepsWhatIsNotDrawnOn) {
  Image<Byte> picture(3, 5, 3);
  for (std::size_t i = 0; i < picture.elements().size(); ++i)
    picture.elements()[i] = static_cast<Byte>(5 * i);
  EXPECT_TRUE(std::ranges::equal(Canvas(picture.view()).picture().elements(), picture.elements()));
}

TEST(Canvas, OutlinesWhereTheBoxIs) {
  for (const Byte ground : {Byte{0}, Byte{128}, Byte{255}}) {
    Canvas canvas(even(60, 80, ground).view());
    canvas.outline({{20, 10, 40, 30}, 0}, kEstimateInk);
    const Image<Byte> drawn = canvas.picture();
    for (const auto& [r, c] : {std::pair{10, 40}, {39, 40}, {25, 20}, {25, 59}})
      EXPECT_TRUE(differs(drawn, r, c, ground));
    for (const auto& [r, c] : {std::pair{25, 40}, {2, 40}, {50, 40}, {25, 5}})
      EXPECT_FALSE(differs(drawn, r, c, ground));
  }
}

TEST(Canvas, OutlinesATurnedBox) {
  Canvas canvas(even(60, 60, 0).view());
  canvas.outline({{20, 20, 20, 20}, 45}, kTruthInk);
  const Image<Byte> drawn = canvas.picture();
  const int tip = static_cast<int>(std::lround(30 - 10 * std::sqrt(2.0)));
  EXPECT_TRUE(differs(drawn, tip, 30, 0));
  EXPECT_FALSE(differs(drawn, 21, 21, 0));
}

TEST(Canvas, DashesLeaveGaps) {
  Canvas canvas(even(40, 200, 0).view());
  canvas.outline({{10, 10, 180, 20}, 0}, kTruthInk, Stroke::dashed);
  const Image<Byte> drawn = canvas.picture();
  int bright = 0;
  for (int c = 12; c < 188; ++c) bright += drawn(10, c, 0) > 128 ? 1 : 0;
  EXPECT_GT(bright, 60);
  EXPECT_LT(bright, 140);
}

TEST(Canvas, KeepsLabelsInside) {
  Canvas canvas(even(60, 200, 255).view());
  canvas.label("held", {-50, 500}, kEstimateInk);
  const Image<Byte> drawn = canvas.picture();
  int dark = 0;
  for (int r = 0; r < 60; ++r)
    for (int c = 0; c < 200; ++c) dark += differs(drawn, r, c, 255) ? 1 : 0;
  EXPECT_GT(dark, 300);
  EXPECT_TRUE(differs(drawn, 59, 2, 255));
}

TEST(Canvas, OutlinesTheSameAfterALabel) {
  Canvas plain(even(60, 80, 99).view());
  plain.outline({{50, 40, 20, 15}, 0}, kTruthInk);
  Canvas labelled(even(60, 80, 99).view());
  labelled.label("x", {0, 0}, kTruthInk, 8);
  labelled.outline({{50, 40, 20, 15}, 0}, kTruthInk);
  const Image<Byte> a = plain.picture();
  const Image<Byte> b = labelled.picture();
  for (int r = 20; r < 60; ++r)
    for (int c = 0; c < 80; ++c) ASSERT_EQ(a(r, c), b(r, c)) << r << " " << c;
}

TEST(Canvas, IgnoresABoxThatIsNone) {
  Canvas canvas(even(20, 20, 9).view());
  canvas.outline({{5, 5, std::nan(""), 4}, 0}, kEstimateInk);
  EXPECT_TRUE(std::ranges::equal(canvas.picture().elements(), even(20, 20, 9).elements()));
}

TEST(Canvas, PastesAndFrames) {
  Canvas canvas(20, 30, {0, 0, 0});
  canvas.paste(even(4, 5, 200).view(), {6, 7});
  canvas.border(kTruthInk, 2);
  const Image<Byte> drawn = canvas.picture();
  EXPECT_EQ(drawn(8, 8, 0), 200);
  EXPECT_EQ(drawn(7, 11, 0), 0);
  EXPECT_EQ(drawn(1, 15, 0), 255);
  EXPECT_EQ(drawn(3, 15, 0), 0);
}

}  // namespace mnemon
