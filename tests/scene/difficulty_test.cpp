// SPDX-License-Identifier: MIT
// Every knob does what it says, more of it at a higher level, and nothing else.
#include <mnemon/scene/difficulty.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>

#include <gtest/gtest.h>

#include <mnemon/scene/scene.hpp>

#include "support/mean_difference.hpp"

namespace mnemon {
namespace {

Scene steady(const ParamSet& set) {
  ParamSet all{{"frames", 90}};
  for (const auto& [name, value] : set) all[name] = value;
  return {demo_scene("steady"), all, 1};
}

double mean_of(const Image<Byte>& picture) {
  const auto levels = picture.elements();
  return std::accumulate(levels.begin(), levels.end(), 0.0) / static_cast<double>(levels.size());
}

int absent_frames(const Scene& scene) {
  return static_cast<int>(std::ranges::count(scene.truth().rows, false, &TruthRow::present));
}

double size_of(const TruthRow& row) { return std::sqrt(row.box.box.w * row.box.box.h); }

// The longest way from one frame to the next, in sizes.
double longest_step(const Scene& scene) {
  double longest = 0;
  const auto& rows = scene.truth().rows;
  for (std::size_t i = 1; i < rows.size(); ++i) {
    if (!rows[i].present || !rows[i - 1].present) continue;
    const Point a = centre(rows[i - 1].box.box);
    const Point b = centre(rows[i].box.box);
    longest = std::max(longest, std::hypot(b.x - a.x, b.y - a.y) / size_of(rows[i]));
  }
  return longest;
}

// Mean difference between pixels beside each other: low where the picture is blurred.
double sharpness(const Image<Byte>& picture) {
  double sum = 0;
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 1; c < picture.cols(); ++c) sum += std::abs(picture(r, c, 1) - picture(r, c - 1, 1));
  return sum / (picture.rows() * picture.cols());
}

double variance_of_difference(const Image<Byte>& a, const Image<Byte>& b, int row) {
  double sum = 0;
  for (int c = 0; c < a.cols(); ++c) sum += std::pow(a(row, c, 1) - b(row, c, 1), 2);
  return sum / a.cols() / 2;
}

}  // namespace

TEST(Knobs, OfTheLookLeaveTruthAsItIs) {
  const auto plain = steady({}).truth().rows;
  for (const char* knob :
       {"blur", "light", "lookalike", "clutter", "noise", "night", "rain", "haze", "compression"})
    EXPECT_EQ(steady({{knob, 0.8}}).truth().rows, plain) << knob;
}

TEST(Knobs, OfTheMotionLeaveTheLandscapeAsItIs) {
  const Image<Byte> plain = steady({}).render(20);
  for (const char* knob : {"scale", "rotation", "aspect", "deformation", "small", "fast", "out_of_view"}) {
    const Image<Byte> moved = steady({{knob, 0.4}}).render(20);
    int equal = 0;
    for (int r = 250; r < 300; ++r)
      for (int c = 0; c < 100; ++c) equal += moved(r, c, 1) == plain(r, c, 1) ? 1 : 0;
    EXPECT_EQ(equal, 5000) << knob;
  }
}

TEST(Knobs, AtZeroChangeNothing) {
  const Scene plain = steady({});
  const Scene zero = steady({{"occlusion", 0}, {"scale", 0.0}, {"camera_motion", 0.0}, {"noise", 0.0}});
  EXPECT_EQ(zero.truth().rows, plain.truth().rows);
  EXPECT_EQ(test::mean_difference(zero.render(7), plain.render(7)), 0);
  EXPECT_TRUE(zero.describe().tags.empty());
}

TEST(Knobs, BringTheirTagAlong) {
  for (const std::string_view tag : known_tags()) {
    std::string knob(tag);
    std::ranges::replace(knob, '-', '_');
    EXPECT_EQ(steady({{knob, 0.5}}).describe().tags, std::vector<std::string>{std::string(tag)});
  }
}

TEST(Knobs, LeaveTheFirstFrameEasy) {
  for (const std::string_view tag : known_tags()) {
    std::string knob(tag);
    std::ranges::replace(knob, '-', '_');
    const Scene scene = steady({{knob, 1.0}});
    EXPECT_EQ(scene.truth().rows[0].visible, 1) << knob;
  }
}

TEST(OcclusionKnob, HidesForItsShareOfTheTime) {
  EXPECT_EQ(absent_frames(steady({{"occlusion", 0.0}})), 0);
  for (const double level : {0.2, 0.5, 0.8}) {
    const int hidden = absent_frames(steady({{"occlusion", level}}));
    EXPECT_NEAR(hidden, 0.85 * level * 90, 3) << level;
  }
  EXPECT_GT(absent_frames(steady({{"occlusion", 1.0}})), 70);
}

TEST(OutOfViewKnob, TakesTheTargetOutAndBackElsewhere) {
  int before = 0;
  for (const double level : {0.2, 0.5, 0.8}) {
    const Scene scene = steady({{"out_of_view", level}, {"frames", 180}});
    const int away = absent_frames(scene);
    EXPECT_GT(away, before + 20) << level;
    before = away;
    const auto& rows = scene.truth().rows;
    EXPECT_GT(std::abs(centre(rows.back().box.box).x - centre(rows.front().box.box).x), 60) << level;
    EXPECT_TRUE(rows.back().present);
  }
}

TEST(ScaleKnob, ChangesTheSize) {
  double before = 1.3;
  for (const double level : {0.3, 0.6, 1.0}) {
    double smallest = 1e9;
    double largest = 0;
    const Scene scene = steady({{"scale", level}, {"frames", 170}});
    for (const TruthRow& row : scene.truth().rows) {
      smallest = std::min(smallest, size_of(row));
      largest = std::max(largest, size_of(row));
    }
    EXPECT_GT(largest / smallest, before);
    before = 1.5 * largest / smallest;
  }
}

TEST(RotationKnob, TurnsTheOutline) {
  const auto first_corner_turn = [](double level) {
    const Scene scene = steady({{"rotation", level}, {"gust", 0.0}});
    // Where the sail's top points, seen from the middle of its box, summed up over the frames.
    double total = 0;
    double last = 0;
    for (int frame = 0; frame < 90; ++frame) {
      const Point middle = centre(scene.truth().rows[frame].box.box);
      const Point top = scene.outline(frame)[0];
      const double angle = std::atan2(top.y - middle.y, top.x - middle.x);
      if (frame > 0) total += std::abs(std::remainder(angle - last, 6.283185307));
      last = angle;
    }
    return total / 6.283185307;
  };
  EXPECT_LT(first_corner_turn(0), 0.3);
  EXPECT_NEAR(first_corner_turn(0.2), 1.6, 0.6);
  EXPECT_GT(first_corner_turn(1), 6);
}

TEST(AspectKnob, TurnsTheTargetEdgeOn) {
  double narrowest = 1;
  const Scene scene = steady({{"aspect", 1.0}, {"gust", 0.0}});
  for (const TruthRow& row : scene.truth().rows)
    narrowest = std::min(narrowest, row.box.box.w / row.box.box.h);
  EXPECT_LT(narrowest, 0.2);
}

TEST(SmallKnob, ShrinksTheTarget) {
  EXPECT_NEAR(size_of(steady({{"small", 1.0}}).truth().rows[0]) / size_of(steady({}).truth().rows[0]), 0.04,
              0.005);
  double smallest = 1e9;
  const Scene speck(demo_scene("speck"), {}, 1);
  for (const TruthRow& row : speck.truth().rows) smallest = std::min(smallest, row.box.box.h);
  EXPECT_NEAR(smallest, 10, 2);
}

TEST(FastKnob, OutrunsTheTargetsSize) {
  EXPECT_LT(longest_step(steady({})), 0.3);
  EXPECT_GT(longest_step(steady({{"fast", 0.3}})), 0.4);
  EXPECT_GT(longest_step(steady({{"fast", 1.0}})), 1.2);
  EXPECT_GT(longest_step(Scene(demo_scene("gusts"), {}, 1)), 1);
}

TEST(DeformationKnob, BendsTheOutline) {
  const Scene plain = steady({});
  const Scene bent = steady({{"deformation", 0.8}});
  EXPECT_NE(plain.outline(60), bent.outline(60));
  double most = 0;
  for (int frame = 30; frame < 90; ++frame)
    most = std::max(most, 1 - overlap(plain.truth().rows[frame].box, bent.truth().rows[frame].box));
  EXPECT_GT(most, 0.15);
}

TEST(BlurKnob, TakesTheSharpness) {
  double before = sharpness(steady({}).render(40));
  for (const double level : {0.4, 0.7, 1.0}) {
    const double now = sharpness(steady({{"blur", level}}).render(40));
    EXPECT_LT(now, before) << level;
    before = now;
  }
}

TEST(LightKnob, DarkensAndDrifts) {
  double before = mean_of(steady({}).render(85));
  for (const double level : {0.3, 0.6, 1.0}) {
    const Scene scene = steady({{"light", level}});
    const double now = mean_of(scene.render(85));
    EXPECT_LT(now, 0.9 * before) << level;
    before = now;
    EXPECT_NEAR(mean_of(scene.render(0)), mean_of(steady({}).render(0)), 2);
  }
}

TEST(NoiseKnob, CountsPhotons) {
  // Two frames of one moment differ by their noise alone, whose variance grows with the light: a bright row of sky
  // beside a dark one of water. The variance is that of the sum of both, halved.
  const auto row_variance = [](double level, int row) {
    const ParamSet still{{"noise", level}, {"rate_hz", 1000.0}, {"gust", 0.0}, {"frames", 20}};
    const Scene scene(demo_scene("steady"), still, 1);
    return variance_of_difference(scene.render(3), scene.render(4), row);
  };
  const double quiet = row_variance(0, 20);
  EXPECT_NEAR(quiet, 1.44 + 0.010 * 140 + 1.0 / 12, 0.6);  // reading, photons, and rounding to bytes
  const double sky = row_variance(0.3, 20);
  EXPECT_GT(sky, 3 * quiet);
  EXPECT_GT(row_variance(0.5, 20), 3 * sky);
}

TEST(LookalikeKnob, BringsOthersThatComeClose) {
  SceneParams params;
  std::vector<Pose> target(150);
  for (int i = 0; i < 150; ++i) {
    target[i].at = {320, 120};
    target[i].size_px = 60;
    target[i].time_s = i / 30.0;
  }
  EXPECT_TRUE(lookalike_poses(params, 1, target).empty());
  double before = 1e9;
  for (const double level : {0.3, 0.6, 1.0}) {
    params.lookalike = level;
    const auto others = lookalike_poses(params, 1, target);
    EXPECT_EQ(others.size(), 1 + static_cast<std::size_t>(std::lround(5 * level)));
    double nearest = 1e9;
    for (const auto& way : others) {
      EXPECT_GT(std::abs(way[0].at.x - 320), 120);
      for (int i = 0; i < 150; ++i)
        nearest = std::min(nearest, std::hypot(way[i].at.x - 320, way[i].at.y - 120));
    }
    EXPECT_LT(nearest, before);
    before = nearest;
  }
}

TEST(ClutterKnob, FillsTheSky) {
  const Image<Byte> plain = steady({}).render(5);
  double before = 0;
  for (const double level : {0.1, 0.5, 1.0}) {
    const double now = test::mean_difference(steady({{"clutter", level}}).render(5), plain);
    EXPECT_GT(now, before + 2) << level;
    before = now;
  }
}

TEST(CameraMotionKnob, MovesTheLandscape) {
  const auto motion = [](double level) {
    const Scene scene = steady({{"camera_motion", level}});
    double sum = 0;
    for (int frame = 10; frame < 60; frame += 10)
      sum += test::mean_difference(scene.render(frame), scene.render(frame + 1));
    return sum;
  };
  EXPECT_GT(motion(0.3), 1.15 * motion(0));
  EXPECT_GT(motion(1), 1.15 * motion(0.3));
}

TEST(HiddenSpans, AreThoseAskedFor) {
  SceneParams params;
  EXPECT_TRUE(hidden_spans(params).empty());
  params.hidden_frames = 20;
  ASSERT_EQ(hidden_spans(params).size(), 1U);
  EXPECT_EQ(hidden_spans(params)[0].to - hidden_spans(params)[0].from + 1, 20);
  params.occlusion = 0.6;
  EXPECT_EQ(hidden_spans(params).size(), 4U);
}

}  // namespace mnemon
