// SPDX-License-Identifier: MIT
#include <mnemon/scene/pose.hpp>

#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/balloon.hpp>
#include <mnemon/scene/camera.hpp>
#include <mnemon/scene/flight.hpp>

namespace mnemon {
namespace {

void expect_near(Point a, Point b, double tolerance) {
  EXPECT_NEAR(a.x, b.x, tolerance);
  EXPECT_NEAR(a.y, b.y, tolerance);
}

Pose some_pose() {
  Pose pose;
  pose.at = {100, 60};
  pose.size_px = 40;
  pose.roll_deg = 90;
  pose.pitch = 0.5;
  return pose;
}

}  // namespace

TEST(Affine, MapsJoinsAndGoesBack) {
  const Affine turn{0, -1, 5, 1, 0, 2};
  expect_near(mapped(turn, {3, 4}), {1, 5}, 1e-12);
  const Affine shear{1, 0.5, 0, 0.2, 2, 1};
  const Point p{7, -3};
  expect_near(mapped(after(shear, turn), p), mapped(shear, mapped(turn, p)), 1e-12);
  expect_near(mapped(inverse(shear), mapped(shear, p)), p, 1e-12);
}

TEST(Placing, TurnsSquashesAndPutsInPlace) {
  const Placing place(some_pose());
  expect_near(place({0, 0}), {100, 60}, 1e-9);
  expect_near(place({1, 0}), {100, 100}, 1e-9);  // its right points down after a quarter turn clockwise
  expect_near(place({0, 1}), {80, 60}, 1e-9);    // its foot to the left, half as far
  expect_near(place.own({80, 60}), {0, 1}, 1e-9);
}

TEST(Placing, BendsWithoutFolding) {
  Pose pose = some_pose();
  pose.pitch = 1;
  pose.flutter = 0.5;
  for (int step = 0; step < 60; ++step) {
    pose.time_s = step / 30.0;
    const Placing place(pose);
    for (double x = -0.5; x < 0.5; x += 0.1)
      for (double y = -0.6; y < 0.7; y += 0.1) {
        const Point at = place({x, y});
        const Point right = place({x + 1e-4, y});
        const Point below = place({x, y + 1e-4});
        const double area = (right.x - at.x) * (below.y - at.y) - (right.y - at.y) * (below.x - at.x);
        EXPECT_GT(area, 0) << x << " " << y << " at " << pose.time_s;
      }
  }
}

TEST(Pose, BetweenIsHalfWay) {
  Pose other = some_pose();
  other.at = {120, 80};
  other.roll_deg = 30;
  const Pose middle = between(some_pose(), other, 0.5);
  EXPECT_EQ(middle.at, (Point{110, 70}));
  EXPECT_EQ(middle.roll_deg, 60);
}

TEST(Disc, HasTheAreaOfItsCircle) { EXPECT_NEAR(std::abs(signed_area(disc())), 3.14159265 / 4, 1e-6); }

TEST(HangTails, KeepsEveryLinkAsLongAsItIs) {
  SceneParams params;
  params.frames = 60;
  params.fast = 0.8;
  std::vector<Pose> poses = fly(params, {{0, 0.5, 0.5, 1}}, 3);
  for (int i = 0; i < 60; ++i) poses[i].at.x += 80 * std::sin(2.0 * i);  // darts further than it is large
  hang_tails(params, {0, 0.64}, 3, poses);
  for (const Pose& pose : poses) {
    double length = 0;
    for (std::size_t i = 1; i < pose.tail.size(); ++i)
      length += std::hypot(pose.tail[i].x - pose.tail[i - 1].x, pose.tail[i].y - pose.tail[i - 1].y);
    EXPECT_LT(length, 1.3 * pose.size_px + 1e-6);
  }
}

TEST(Camera, IsStillUnlessItMoves) {
  SceneParams params;
  const Camera still(params, 1);
  EXPECT_EQ(still.margin(), 0);
  expect_near(mapped(still.to_rest(3), {5, 6}), {5, 6}, 0);
  params.camera_motion = 0.5;
  const Camera shaken(params, 1);
  double farthest = 0;
  for (double t = 0; t < 20; t += 0.1) {
    const Point corner = mapped(shaken.to_rest(t), {0, 0});
    farthest = std::max(farthest, std::hypot(corner.x, corner.y));
  }
  EXPECT_GT(farthest, 20);
}

}  // namespace mnemon
