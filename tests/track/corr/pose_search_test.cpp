// SPDX-License-Identifier: MIT
#include <mnemon/image/bilinear.hpp>
#include <mnemon/track/corr/pose_search.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/track/corr/reliable.hpp>

namespace mnemon {
namespace {

// Overlapping discs of all sizes and grey levels: texture at every scale.
Image<float> discs(int side, std::uint64_t key) {
  Image<float> picture(side, side);
  Random random(key);
  for (int i = 0; i < side; ++i) {
    const double x = random.uniform(0, side);
    const double y = random.uniform(0, side);
    const double radius = random.uniform(3, 22);
    const auto level = static_cast<float>(random.uniform(0, 255));
    for (int r = 0; r < side; ++r)
      for (int c = 0; c < side; ++c)
        if (std::hypot(c + 0.5 - x, r + 0.5 - y) < radius) picture(r, c) = level;
  }
  return picture;
}

// The picture grown and turned, clockwise, about its middle.
Image<Byte> posed(const Image<float>& picture, double growth, double turn_deg = 0) {
  Image<float> shown(picture.rows(), picture.cols());
  const Point middle{0.5 * picture.cols(), 0.5 * picture.rows()};
  const Point across = turned({1 / growth, 0}, -turn_deg);
  const Point down = turned({0, 1 / growth}, -turn_deg);
  warp_into(picture.view(),
            {across.x, down.x, middle.x - across.x * middle.x - down.x * middle.y, across.y, down.y,
             middle.y - across.y * middle.x - down.y * middle.y},
            shown.view());
  Image<Byte> rgb(picture.rows(), picture.cols(), 3);
  for (std::size_t i = 0; i < shown.elements().size(); ++i)
    for (int k = 0; k < 3; ++k) rgb.elements()[3 * i + k] = static_cast<Byte>(shown.elements()[i]);
  return rgb;
}

}  // namespace

TEST(PoseSearch, FindsHowMuchATextureHasGrown) {
  const Image<float> texture = discs(300, 3);
  const Image<Byte> before = posed(texture, 1);
  for (const double growth : {0.85, 0.94, 1.0, 1.03, 1.1, 1.2}) {
    PoseSearch search(50, 40, {2, 0}, 300, 300);
    search.learn(before.view(), {{150, 150}}, 1);
    EXPECT_NEAR(search.find(posed(texture, growth).view(), {{150, 150}}, {}).growth, growth, 0.035 * growth);
  }
}

TEST(PoseSearch, FollowsSteadyGrowthToThreeTimesTheSize) {
  const Image<float> texture = discs(300, 4);
  PoseSearch search(40, 40, {2, 0}, 300, 300);
  search.learn(posed(texture, 1).view(), {{150, 150}}, 1);
  double scale = 1;
  for (int i = 1; i <= 20; ++i) {
    const double right = std::exp(0.055 * i);
    const Image<Byte> picture = posed(texture, right);
    scale *= search.find(picture.view(), {{150, 150}, scale}, {}).growth;
    search.learn(picture.view(), {{150, 150}, scale}, 0.025);
    EXPECT_NEAR(scale / right, 1, 0.06) << i;
  }
}

TEST(PoseSearch, StaysWhereThereIsNothingToSee) {
  Image<Byte> flat(100, 100, 3);
  PoseSearch search(30, 20, {2, 20}, 100, 100);
  search.learn(flat.view(), {{50, 50}}, 1);
  const PoseSearch::Change change = search.find(flat.view(), {{50, 50}}, {});
  EXPECT_TRUE(change.growth >= 0.5 && change.growth <= 2);
  EXPECT_LE(std::abs(change.turn_deg), 20);
}

TEST(PoseSearch, FindsHowATextureHasTurned) {
  const Image<float> texture = discs(300, 5);
  const Image<Byte> before = posed(texture, 1);
  for (const Point size : {Point{50, 50}, {90, 36}}) {
    PoseSearch search(size.x, size.y, {2, 40}, 300, 300);
    search.learn(before.view(), {{150, 150}}, 1);
    for (const double turn : {-9.0, -5.0, -2.0, 0.0, 4.0, 9.0}) {
      const PoseSearch::Change change = search.find(posed(texture, 1, turn).view(), {{150, 150}}, {});
      EXPECT_NEAR(change.turn_deg, turn, 2) << size.x;
      EXPECT_NEAR(change.growth, 1, 0.04) << size.x;
    }
    // Its outer views count less, so that of a large turn a part is left for the next frame.
    for (const double turn : {-30.0, -18.0, -12.0, 12.0, 18.0, 30.0}) {
      const double found = search.find(posed(texture, 1, turn).view(), {{150, 150}}, {}).turn_deg;
      EXPECT_GT(found / turn, 0.5) << size.x;
      EXPECT_LT(found / turn, 1.1) << size.x;
    }
  }
}

TEST(PoseSearch, LooksForNoTurnUnlessToldTo) {
  const Image<float> texture = discs(300, 6);
  PoseSearch search(50, 50, {2, 0}, 300, 300);
  search.learn(posed(texture, 1).view(), {{150, 150}}, 1);
  EXPECT_EQ(search.find(posed(texture, 1, 20).view(), {{150, 150}}, {}).turn_deg, 0);
}

TEST(PoseSearch, FollowsGrowthAndTurnAllRound) {
  const Image<float> texture = discs(300, 7);
  PoseSearch search(60, 44, {2, 40}, 400, 400);
  PoseSearch::Pose pose{{150, 150}};
  search.learn(posed(texture, 1).view(), pose, 1);
  for (int i = 1; i <= 72; ++i) {
    const double growth = std::exp(0.4 * std::sin(0.1 * i));
    const Image<Byte> picture = posed(texture, growth, 6.0 * i);
    const PoseSearch::Change change = search.find(picture.view(), pose, {});
    pose.scale *= change.growth;
    pose.turn_deg += change.turn_deg;
    search.learn(picture.view(), pose, 0.03);
    EXPECT_NEAR(pose.scale / growth, 1, 0.1) << i;
    EXPECT_NEAR(pose.turn_deg, 6.0 * i, 12) << i;
  }
}

// A textured ellipse, twice as wide as high, turns once round before another texture.
TEST(CorrReliable, TurnsItsWindowWithTheTarget) {
  const Image<float> ground = discs(240, 8);
  const Image<float> texture = discs(240, 9);
  const double step_deg = 5;
  const auto ellipse_at = [&](int i) { return Ellipse{{100 + 0.5 * i, 120}, 40, 20, step_deg * i}; };
  const auto picture_at = [&](int i) {
    Image<Byte> picture(240, 240, 3);
    const Ellipse at = ellipse_at(i);
    for (int r = 0; r < 240; ++r)
      for (int c = 0; c < 240; ++c) {
        const Point p = turned({c + 0.5 - at.middle.x, r + 0.5 - at.middle.y}, -at.angle_deg);
        const bool inside = std::hypot(p.x / at.half_w, p.y / at.half_h) < 1;
        const float level = inside ? sampled(texture.view(), 120 + p.x, 120 + p.y) : ground(r, c);
        for (int k = 0; k < 3; ++k) picture(r, c, k) = static_cast<Byte>(level);
      }
    return picture;
  };
  const auto worst_overlap = [&](double turn_deg) {
    CorrReliableParams params;
    params.turn_deg = turn_deg;
    CorrReliable tracker{params};
    double worst = 1;
    for (int i = 0; i <= 72; ++i) {
      const Image<Byte> picture = picture_at(i);
      const Box truth = bounds(ellipse_at(i));
      const Estimate estimate = i == 0 ? tracker.seed({picture.view(), 0, 0}, truth)
                                       : tracker.follow({picture.view(), i, i / 30.0});
      EXPECT_EQ(estimate.box.angle_deg, 0);
      worst = std::min(worst, estimate.present ? overlap(estimate.box.box, truth) : 0);
    }
    return worst;
  };
  EXPECT_GT(worst_overlap(CorrReliableParams{}.turn_deg), 0.75);
  EXPECT_LT(worst_overlap(0),
            0.5);  // an upright box cannot: on its side the target fills less than half of it
}

}  // namespace mnemon
