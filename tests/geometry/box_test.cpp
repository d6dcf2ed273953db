// SPDX-License-Identifier: MIT
#include <mnemon/geometry/box.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/geometry/polygon.hpp>

namespace mnemon {
namespace {

constexpr double kNan = std::numeric_limits<double>::quiet_NaN();
constexpr double kInf = std::numeric_limits<double>::infinity();

Box random_box(Random& random) {
  return {random.uniform(-20, 20), random.uniform(-20, 20), random.uniform(0.1, 30), random.uniform(0.1, 30)};
}

bool contains(const OrientedBox& oriented, Point p) {
  const Point middle = centre(oriented.box);
  const double t = oriented.angle_deg * std::numbers::pi / 180;
  const double x = (p.x - middle.x) * std::cos(t) + (p.y - middle.y) * std::sin(t);
  const double y = (p.y - middle.y) * std::cos(t) - (p.x - middle.x) * std::sin(t);
  return std::abs(x) <= oriented.box.w / 2 && std::abs(y) <= oriented.box.h / 2;
}

// Overlap by counting the points of a fine grid.
double counted_overlap(const OrientedBox& a, const OrientedBox& b, int side) {
  int both = 0;
  int either = 0;
  for (int i = 0; i < side; ++i)
    for (int j = 0; j < side; ++j) {
      const Point p{-50 + 120 * (i + 0.5) / side, -50 + 120 * (j + 0.5) / side};
      const bool in_a = contains(a, p);
      const bool in_b = contains(b, p);
      both += in_a && in_b ? 1 : 0;
      either += in_a || in_b ? 1 : 0;
    }
  return static_cast<double>(both) / either;
}

}  // namespace

TEST(BoxOverlap, OfHalfShiftedBoxesIsAThird) {
  EXPECT_DOUBLE_EQ(overlap(Box{0, 0, 2, 1}, Box{1, 0, 2, 1}), 1.0 / 3);
}

TEST(BoxOverlap, IsExactlyOneForEqualBoxes) {
  Random random(1);
  for (int i = 0; i < 1000; ++i) {
    Box box = random_box(random);
    box.x += 1e7;
    EXPECT_EQ(overlap(box, box), 1.0);
  }
}

TEST(BoxOverlap, IsSymmetricAndWithinItsRange) {
  Random random(2);
  for (int i = 0; i < 1000; ++i) {
    const Box a = random_box(random);
    const Box b = random_box(random);
    EXPECT_NEAR(overlap(a, b), overlap(b, a), 1e-15);
    EXPECT_GE(overlap(a, b), 0);
    EXPECT_LE(overlap(a, b), 1);
  }
}

TEST(BoxOverlap, DoesNotChangeFarFromTheOrigin) {
  // Shifts that are powers of two keep every digit of coordinates that are multiples of 1/64.
  const Box a{1.25, 2.5, 10.5, 7.75};
  const Box b{4.75, 5.5, 12.25, 6.5};
  const double shift = 1048576;
  EXPECT_EQ(overlap(a, b),
            overlap(Box{a.x + shift, a.y - shift, a.w, a.h}, Box{b.x + shift, b.y - shift, b.w, b.h}));
}

TEST(BoxOverlap, IsZeroForBoxesThatTouchOrAreNone) {
  EXPECT_EQ(overlap(Box{0, 0, 2, 2}, Box{2, 0, 2, 2}), 0);
  for (const Box& bad : {Box{0, 0, 0, 2}, Box{0, 0, -1, 2}, Box{kNan, 0, 2, 2}, Box{0, 0, kInf, 2}})
    EXPECT_EQ(overlap(Box{0, 0, 2, 2}, bad), 0);
}

TEST(SharedArea, IsWhatBothCover) {
  EXPECT_DOUBLE_EQ(shared_area(Box{0, 0, 10, 6}, Box{4, 2, 20, 20}), 6 * 4);
  EXPECT_DOUBLE_EQ(shared_area(Box{0, 0, 10, 6}, Box{2, 1, 3, 2}), 3 * 2);
  EXPECT_EQ(shared_area(Box{0, 0, 10, 6}, Box{10, 0, 5, 5}), 0);
  Random random(12);
  for (int i = 0; i < 200; ++i) {
    const Box a = random_box(random);
    const Box b = random_box(random);
    const double shared = shared_area(a, b);
    EXPECT_NEAR(overlap(a, b), shared / (a.w * a.h + b.w * b.h - shared), 1e-12);
  }
}

// Sides go straight from one box's to the other's; the ends are met to the last bit.
TEST(Between, GoesFromOneBoxToTheOther) {
  const Box first{10, 20, 8, 6};
  const Box second{14, 18, 12, 9};
  EXPECT_EQ(between(first, second, 0), first);
  EXPECT_EQ(between(first, second, 1), second);
  EXPECT_EQ(between(first, second, 0.5), (Box{12, 19, 10, 7.5}));
}

TEST(ReachesInto, NeedsSomeSharedArea) {
  EXPECT_TRUE(reaches_into({-5, -5, 6, 6}, 100, 50));
  EXPECT_FALSE(reaches_into({100, 0, 6, 6}, 100, 50));
  EXPECT_FALSE(reaches_into({0, 0, 0, 6}, 100, 50));
}

TEST(OrientedOverlap, OfASquareAndItsHalfTurnedSelf) {
  // Two unit squares, one turned by 45 degrees, share a regular octagon of area 2 (sqrt 2 - 1).
  const double shared = 2 * (std::numbers::sqrt2 - 1);
  const Box square{10, 20, 1, 1};
  EXPECT_NEAR(overlap(OrientedBox{square, 0}, OrientedBox{square, 45}), shared / (2 - shared), 1e-12);
}

TEST(OrientedOverlap, AgreesWithCountedPoints) {
  Random random(3);
  for (int i = 0; i < 40; ++i) {
    const OrientedBox a{random_box(random), random.uniform(-90, 90)};
    const OrientedBox b{random_box(random), random.uniform(-90, 90)};
    // A grid of 0.1 px miscounts at most along the outlines, each below 120 px long.
    EXPECT_NEAR(overlap(a, b), counted_overlap(a, b, 1200), 0.02);
  }
}

TEST(OrientedOverlap, AgreesWithUprightBoxes) {
  Random random(4);
  for (int i = 0; i < 500; ++i) {
    const Box a = random_box(random);
    const Box b = random_box(random);
    // A quarter turn about the centre swaps the sides, so this is the same box, by the way of polygons.
    const Point m = centre(b);
    const OrientedBox turned{box_around(m, b.h, b.w), 90};
    EXPECT_NEAR(overlap(OrientedBox{a, 0}, turned), overlap(a, b), 1e-12);
  }
}

TEST(OrientedOverlap, IsOneForEqualTurnedBoxes) {
  Random random(5);
  for (int i = 0; i < 500; ++i) {
    const OrientedBox box{random_box(random), random.uniform(-90, 90)};
    EXPECT_NEAR(overlap(box, box), 1, 1e-12);
    EXPECT_LE(overlap(box, box), 1);
  }
}

TEST(OrientedOverlap, IsZeroForAnglesThatAreNotFinite) {
  EXPECT_EQ(overlap(OrientedBox{{0, 0, 2, 2}, kNan}, OrientedBox{{0, 0, 2, 2}, 0}), 0);
  EXPECT_EQ(overlap(OrientedBox{{0, 0, 2, 2}, kInf}, OrientedBox{{0, 0, 2, 2}, 10}), 0);
}

TEST(IsTurned, IsNotForHalfTurns) {
  EXPECT_FALSE(is_turned({{}, 180}));
  EXPECT_FALSE(is_turned({{}, -360}));
  EXPECT_TRUE(is_turned({{}, 90}));
}

TEST(FoldedAngle, LiesInItsRange) {
  EXPECT_EQ(folded_angle_deg(-90), 90);
  EXPECT_EQ(folded_angle_deg(270), 90);
  EXPECT_EQ(folded_angle_deg(100), -80);
  EXPECT_EQ(folded_angle_deg(360), 0);
}

TEST(Corners, GoClockwiseOnTheScreen) {
  const auto c = corners({{0, 0, 4, 2}, 90});
  // Turned clockwise by a quarter, the top-left corner comes to the top right.
  EXPECT_NEAR(c[0].x, 3, 1e-12);
  EXPECT_NEAR(c[0].y, -1, 1e-12);
  EXPECT_GT(signed_area(c), 0);
}

TEST(SignedArea, IsThatOfKnownShapes) {
  EXPECT_DOUBLE_EQ(signed_area(Polygon{{0, 0}, {4, 0}, {4, 3}}), 6);
  EXPECT_DOUBLE_EQ(signed_area(Polygon{{4, 3}, {4, 0}, {0, 0}}), -6);
  EXPECT_EQ(signed_area(Polygon{{1, 1}, {2, 2}}), 0);
}

TEST(ConvexHull, HasTheOutermostPointsInOrder) {
  std::vector<Point> points{{2, 2}, {0, 0}, {4, 0}, {4, 3}, {0, 3}, {2, 0}, {4, 0}, {1, 1}};
  std::vector<Point> hull(points.size() + 1);
  hull.resize(convex_hull_into(points, hull));
  EXPECT_EQ(hull, (std::vector<Point>{{0, 0}, {4, 0}, {4, 3}, {0, 3}}));
  EXPECT_NEAR(signed_area(hull), 12, 1e-12);  // clockwise on the screen
  std::vector<Point> line{{0, 0}, {2, 2}, {1, 1}};
  hull.assign(4, {});
  EXPECT_EQ(convex_hull_into(line, hull), 2U);
  std::vector<Point> one{{3, 4}, {3, 4}};
  EXPECT_EQ(convex_hull_into(one, hull), 1U);
  EXPECT_EQ(convex_hull_into({}, hull), 0U);
}

TEST(ConvexHull, HoldsEveryPointAndBendsOneWay) {
  Random random(41);
  for (int i = 0; i < 50; ++i) {
    std::vector<Point> points;
    for (int k = 0; k < 3 + i; ++k) points.push_back({random.uniform(-5, 5), random.uniform(-5, 5)});
    std::vector<Point> hull(points.size() + 1);
    hull.resize(convex_hull_into(points, hull));
    for (std::size_t k = 0; k < hull.size(); ++k) {
      const Point a = hull[k];
      const Point b = hull[(k + 1) % hull.size()];
      for (const Point p : points) EXPECT_GE((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x), -1e-9);
    }
  }
}

// Every direction between two points is tried: the slow twin of trying only those of the hull's sides.
TEST(TightestBox, IsTheSmallestOfAllDirections) {
  Random random(42);
  for (int i = 0; i < 30; ++i) {
    std::vector<Point> points;
    for (int k = 0; k < 4 + i % 9; ++k) points.push_back({random.uniform(-5, 5), random.uniform(-3, 3)});
    double least = 1e9;
    for (const Point p : points)
      for (const Point q : points) {
        if (p == q) continue;
        const double angle = std::atan2(q.y - p.y, q.x - p.x);
        Point low{1e9, 1e9};
        Point high{-1e9, -1e9};
        for (const Point at : points) {
          const Point turned{std::cos(angle) * at.x + std::sin(angle) * at.y,
                             std::cos(angle) * at.y - std::sin(angle) * at.x};
          low = {std::min(low.x, turned.x), std::min(low.y, turned.y)};
          high = {std::max(high.x, turned.x), std::max(high.y, turned.y)};
        }
        least = std::min(least, (high.x - low.x) * (high.y - low.y));
      }
    const OrientedBox box = tightest_box(points);
    EXPECT_NEAR(box.box.w * box.box.h, least, 1e-9);
  }
}

TEST(Bounds, AreTightAndEmptyForNothing) {
  EXPECT_EQ(bounds(Polygon{{1, 5}, {-2, 3}, {4, 4}}), (Box{-2, 3, 6, 2}));
  EXPECT_EQ(bounds(Polygon{}), Box{});
}

TEST(UprightAround, IsTheBoxItselfWhereItIsNotTurned) {
  const Box box{10, 20, 30, 10};
  EXPECT_EQ(upright_around({box, 0}), box);
  EXPECT_EQ(upright_around({box, 180}), box);
  const Box quarter = upright_around({box, 90});
  EXPECT_NEAR(quarter.w, 10, 1e-12);
  EXPECT_NEAR(quarter.h, 30, 1e-12);
  EXPECT_NEAR(centre(quarter).x, centre(box).x, 1e-12);
}

TEST(Ellipse, HasTheUprightBoundsOfItsRim) {
  for (const double angle : {0.0, 30.0, 90.0, -70.0, 145.0}) {
    const Ellipse ellipse{{7, -3}, 12, 5, angle};
    double right = -1e9;
    double bottom = -1e9;
    for (int i = 0; i < 36000; ++i) {
      const double t = i * std::numbers::pi / 18000;
      const Point rim = turned({12 * std::cos(t), 5 * std::sin(t)}, angle);
      right = std::max(right, rim.x);
      bottom = std::max(bottom, rim.y);
    }
    const Box box = bounds(ellipse);
    EXPECT_NEAR(box.x + box.w, 7 + right, 1e-6);
    EXPECT_NEAR(box.x, 7 - right, 1e-6);
    EXPECT_NEAR(box.y + box.h, -3 + bottom, 1e-6);
    EXPECT_NEAR(box.y, -3 - bottom, 1e-6);
  }
}

}  // namespace mnemon
