// SPDX-License-Identifier: MIT
#include <mnemon/vision/pieces.hpp>

#include <cmath>
#include <numbers>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

BitMask mask_of(const std::vector<std::string>& rows) {
  BitMask mask(static_cast<int>(rows.size()), static_cast<int>(rows.front().size()));
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c)
      if (rows[r][c] == '#') mask.set(r, c);
  return mask;
}

// The bits inside an ellipse.
BitMask ellipse_mask(const Ellipse& ellipse, int side) {
  BitMask mask(side, side);
  const double turn = ellipse.angle_deg * std::numbers::pi / 180;
  for (int r = 0; r < side; ++r)
    for (int c = 0; c < side; ++c) {
      const double x = c + 0.5 - ellipse.middle.x;
      const double y = r + 0.5 - ellipse.middle.y;
      const double u = (std::cos(turn) * x + std::sin(turn) * y) / ellipse.half_w;
      const double v = (std::cos(turn) * y - std::sin(turn) * x) / ellipse.half_h;
      if (u * u + v * v < 1) mask.set(r, c);
    }
  return mask;
}

// The areas of pieces by filling from each bit in turn.
std::multiset<int> flooded_areas(BitMask mask, bool corners) {
  std::multiset<int> areas;
  std::vector<std::pair<int, int>> next;
  std::vector<Byte> seen(static_cast<std::size_t>(mask.rows()) * mask.cols());
  const auto visit = [&](int r, int c) {
    if (r < 0 || c < 0 || r >= mask.rows() || c >= mask.cols() || !mask.at(r, c)) return;
    Byte& mark = seen[static_cast<std::size_t>(r) * mask.cols() + c];
    if (mark == 0) next.emplace_back(r, c);
    mark = 1;
  };
  for (int r = 0; r < mask.rows(); ++r)
    for (int c = 0; c < mask.cols(); ++c) {
      int area = 0;
      if (seen[static_cast<std::size_t>(r) * mask.cols() + c] == 0) visit(r, c);
      while (!next.empty()) {
        const auto [i, j] = next.back();
        next.pop_back();
        ++area;
        for (int di = -1; di <= 1; ++di)
          for (int dj = -1; dj <= 1; ++dj)
            if (corners || di == 0 || dj == 0) visit(i + di, j + dj);
      }
      if (area > 0) areas.insert(area);
    }
  return areas;
}

TEST(Pieces, AreFoundWithTheirPlaceAndMoments) {
  const BitMask mask = mask_of({"##....", "##...#", "....#.", ".....#"});
  PieceFinder finder(4, 6);
  const auto pieces = finder.find(mask);
  ASSERT_EQ(pieces.size(), 2U);
  EXPECT_EQ(pieces[0].area, 4);
  EXPECT_EQ(pieces[0].box(), (Box{0, 0, 2, 2}));
  EXPECT_EQ(pieces[0].middle, (Point{1, 1}));
  // A square of side 2: a twelfth of the side squared.
  EXPECT_NEAR(pieces[0].xx, 4.0 / 12, 1e-12);
  EXPECT_NEAR(pieces[0].xy, 0, 1e-12);
  EXPECT_EQ(pieces[1].area, 3);
  EXPECT_EQ(pieces[1].box(), (Box{4, 1, 2, 3}));
  EXPECT_NEAR(pieces[1].middle.x, (5.5 + 4.5 + 5.5) / 3, 1e-12);
}

TEST(Pieces, AreThoseOfAFlood) {
  Random random(21);
  for (const int side : {1, 2, 15, 16, 17, 33, 64, 65})
    for (const double share : {0.1, 0.35, 0.5, 0.6, 0.9}) {
      BitMask mask(side, side + 3);
      for (int r = 0; r < mask.rows(); ++r)
        for (int c = 0; c < mask.cols(); ++c)
          if (random.uniform() < share) mask.set(r, c);
      PieceFinder finder(mask.rows(), mask.cols());
      std::multiset<int> areas;
      int drawn = 0;
      for (const Piece& piece : finder.find(mask)) {
        areas.insert(piece.area);
        BitMask alone(mask.rows(), mask.cols());
        finder.draw_into(piece, alone);
        EXPECT_EQ(alone.count(), piece.area);
        drawn += piece.area;
      }
      EXPECT_EQ(areas, flooded_areas(mask, true)) << side << ", " << share;
      EXPECT_EQ(drawn, mask.count());
    }
}

TEST(Pieces, JoinedHaveTheMomentsOfAllTheirBits) {
  const BitMask mask = mask_of({"##....", "##...#", "......", ".#...."});
  PieceFinder finder(4, 6);
  ASSERT_EQ(finder.find(mask).size(), 3U);
  const Piece& all = finder.join();
  EXPECT_EQ(all.area, 6);
  EXPECT_EQ(all.box(), (Box{0, 0, 6, 4}));
  // Bit by bit: a unit square has a twelfth about its own middle.
  const std::vector<Point> bits{{0.5, 0.5}, {1.5, 0.5}, {0.5, 1.5}, {1.5, 1.5}, {5.5, 1.5}, {1.5, 3.5}};
  Point middle;
  for (const Point bit : bits) middle = {middle.x + bit.x / 6, middle.y + bit.y / 6};
  double xx = 1.0 / 12;
  double xy = 0;
  for (const Point bit : bits) {
    xx += (bit.x - middle.x) * (bit.x - middle.x) / 6;
    xy += (bit.x - middle.x) * (bit.y - middle.y) / 6;
  }
  EXPECT_NEAR(all.middle.x, middle.x, 1e-12);
  EXPECT_NEAR(all.xx, xx, 1e-12);
  EXPECT_NEAR(all.xy, xy, 1e-12);
  BitMask drawn(4, 6);
  finder.draw_into(all, drawn);
  EXPECT_EQ(drawn.count(), 6);
}

TEST(Pieces, FillsOnlyWhatIsEnclosed) {
  BitMask mask = mask_of({".####..", ".#..#.#", ".#.##.#", ".###..#", "......."});
  PieceFinder finder(5, 7);
  finder.fill_holes(mask);
  const BitMask filled = mask_of({".####..", ".####.#", ".####.#", ".###..#", "......."});
  for (int r = 0; r < 5; ++r)
    for (int c = 0; c < 7; ++c) EXPECT_EQ(mask.at(r, c), filled.at(r, c)) << r << ", " << c;
}

TEST(Pieces, GiveBackAnEllipse) {
  for (const double angle : {0.0, 30.0, -65.0, 90.0}) {
    const Ellipse drawn{{60.3, 58.7}, 40, 18, angle};
    PieceFinder finder(120, 120);
    const BitMask mask = ellipse_mask(drawn, 120);
    const Ellipse found = ellipse_of(finder.find(mask).front());
    EXPECT_NEAR(found.middle.x, drawn.middle.x, 0.1);
    EXPECT_NEAR(found.middle.y, drawn.middle.y, 0.1);
    EXPECT_NEAR(found.half_w, 40, 0.3);
    EXPECT_NEAR(found.half_h, 18, 0.3);
    EXPECT_NEAR(std::remainder(found.angle_deg - angle, 180.0), 0, 0.5);
  }
}

TEST(Pieces, TellDiscsSquaresAndCrosses) {
  PieceFinder finder(100, 100);
  const BitMask disc = ellipse_mask({{50, 50}, 40, 40, 0}, 100);
  const PieceForm round = finder.form_of(finder.find(disc).front());
  EXPECT_NEAR(round.circularity, 1, 0.01);
  EXPECT_NEAR(round.rectangularity, std::numbers::pi / 4, 0.02);
  EXPECT_GT(round.solidity, 0.97);
  BitMask square(100, 100);
  for (int r = 20; r < 80; ++r) square.set_run(r, 20, 80);
  const PieceForm boxy = finder.form_of(finder.find(square).front());
  EXPECT_NEAR(boxy.circularity, 3 / std::numbers::pi, 1e-9);  // of the second moments of a square
  EXPECT_NEAR(boxy.rectangularity, 1, 1e-9);
  EXPECT_NEAR(boxy.solidity, 1, 1e-9);
  EXPECT_EQ(boxy.tightest.box, (Box{20, 20, 60, 60}));
  BitMask cross(100, 100);
  for (int r = 10; r < 90; ++r) cross.set_run(r, r >= 40 && r < 60 ? 10 : 40, r >= 40 && r < 60 ? 90 : 60);
  const PieceForm ragged = finder.form_of(finder.find(cross).front());
  // A plus of five squares of side 20 but for its arms of 30: 80 x 20 twice less the middle, in its octagon.
  EXPECT_NEAR(ragged.solidity, 2800.0 / (6400 - 4 * 450), 1e-9);
  EXPECT_LT(ragged.circularity, boxy.circularity);
}

TEST(Pieces, HaveATurnedBoxAlongTheirLength) {
  for (const double angle : {10.0, 35.0, -50.0}) {
    PieceFinder finder(120, 120);
    const BitMask mask = ellipse_mask({{60, 60}, 30, 10, angle}, 120);
    const OrientedBox box = finder.turned_box(finder.find(mask).front());
    EXPECT_NEAR(std::remainder(box.angle_deg - angle, 180.0), 0, 1.5);
    EXPECT_NEAR(box.box.w, 60, 2);
    EXPECT_NEAR(box.box.h, 20, 2);
  }
}

}  // namespace
}  // namespace mnemon
