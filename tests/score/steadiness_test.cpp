// SPDX-License-Identifier: MIT
#include <mnemon/score/steadiness.hpp>

#include <cmath>
#include <functional>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

constexpr int kFrames = 120;
constexpr double kSize = 20;

using Path = std::function<Point(double)>;

Steadiness of_paths(const Path& truth_path, const Path& answer_path) {
  Truth truth;
  Trace trace;
  for (int i = 0; i < kFrames; ++i) {
    truth.rows.push_back({i, {box_around(truth_path(i), kSize, kSize), 0}, true});
    trace.rows.push_back({i, {box_around(answer_path(i), kSize, kSize), 0}, 1, true});
  }
  return steadiness(score_frames(truth, trace).frames, truth, trace);
}

Point loop(double frame) { return {100 + 60 * std::sin(frame / 15), 80 + 40 * std::cos(frame / 11)}; }

}  // namespace

TEST(Jitter, IsNothingOfABoxThatIsOffByTheSame) {
  const Steadiness steady = of_paths(loop, [](double frame) {
    const Point at = loop(frame);
    return Point{at.x + 4, at.y - 3};
  });
  EXPECT_NEAR(*steady.jitter, 0, 1e-9);
}

TEST(Jitter, IsFourTimesTheAmplitudeOfAZigzag) {
  // Of errors a, -a, a the second difference is 4 a; here a is 0.05 target sizes.
  const Steadiness shaky = of_paths(loop, [](double frame) {
    const Point at = loop(frame);
    return Point{at.x + (static_cast<int>(frame) % 2 == 0 ? 1 : -1), at.y};
  });
  EXPECT_NEAR(*shaky.jitter, 4 * 0.05, 1e-9);
}

TEST(Lag, IsHowManyFramesBehindThePathRuns) {
  for (const double lag : {-3.0, 0.0, 2.0, 7.0})
    EXPECT_NEAR(*of_paths(loop, [lag](double frame) { return loop(frame - lag); }).lag, lag, 0.02) << lag;
}

TEST(Lag, IsFoundBetweenFrames) {
  // A parabola through three samples of a smooth valley: off by less than a twentieth of a frame here.
  EXPECT_NEAR(*of_paths(loop, [](double frame) { return loop(frame - 2.4); }).lag, 2.4, 0.05);
}

TEST(Lag, IsUnknownOfATargetThatRests) {
  const Path rest = [](double) { return Point{50, 50}; };
  EXPECT_FALSE(of_paths(rest, rest).lag);
  EXPECT_TRUE(of_paths(rest, rest).jitter);
}

TEST(Steadiness, IsUnknownWithoutFrames) {
  const Truth truth;
  const Trace trace;
  EXPECT_FALSE(steadiness({}, truth, trace).jitter);
  EXPECT_FALSE(steadiness({}, truth, trace).lag);
}

}  // namespace mnemon
