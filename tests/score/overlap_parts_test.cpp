// SPDX-License-Identifier: MIT
#include <mnemon/score/overlap_parts.hpp>

#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

constexpr double kRounding = 1e-12;

OrientedBox upright(double x, double y, double w, double h) { return {{x, y, w, h}, 0}; }

}  // namespace

TEST(OverlapParts, OfAMovedBoxAreOffsetAlone) {
  const OverlapParts parts = overlap_parts(upright(0, 0, 10, 10), upright(5, 0, 10, 10));
  EXPECT_NEAR(parts.offset, 2.0 / 3, kRounding);  // overlap 50 / 150
  EXPECT_NEAR(parts.size, 0, kRounding);
  EXPECT_NEAR(parts.shape, 0, kRounding);
  EXPECT_NEAR(parts.covered, 0.5, kRounding);
}

TEST(OverlapParts, OfALargeBoxAreSizeAlone) {
  const OverlapParts parts = overlap_parts(upright(0, 0, 10, 10), upright(-5, -5, 20, 20));
  EXPECT_NEAR(parts.offset, 0, kRounding);
  EXPECT_NEAR(parts.size, 0.75, kRounding);
  EXPECT_NEAR(parts.covered, 1, kRounding);
}

TEST(OverlapParts, OfALongBoxAreShape) {
  // 20 x 5 about the centre of 10 x 10, of the same area: they share 10 x 5 of 150.
  const OverlapParts parts = overlap_parts(upright(0, 0, 10, 10), upright(-5, 2.5, 20, 5));
  EXPECT_NEAR(parts.shape, 1 - 50.0 / 150, kRounding);
  EXPECT_NEAR(parts.offset + parts.size, 0, kRounding);
}

TEST(OverlapParts, AddUpToWhatIsLost) {
  Random random(1);
  for (int i = 0; i < 200; ++i) {
    const auto side = [&] { return random.uniform(5, 25); };
    const OrientedBox truth{{0, 0, side(), side()}, i % 2 == 0 ? 0 : 25.0};
    const OrientedBox guess{{random.uniform(-5, 5), random.uniform(-5, 5), side(), side()},
                            i % 3 == 0 ? 0 : random.uniform(0, 70)};
    const OverlapParts parts = overlap_parts(truth, guess);
    EXPECT_NEAR(parts.offset + parts.size + parts.shape, 1 - overlap(truth, guess), 1e-9) << i;
    EXPECT_GE(parts.covered, 0) << i;
    EXPECT_LE(parts.covered, 1) << i;
  }
}

TEST(MeanOverlapParts, AreOfFoundFramesAlone) {
  Truth truth;
  Trace trace;
  for (int i = 0; i < 4; ++i) {
    truth.rows.push_back({i, upright(0, 0, 10, 10), i != 2});
    trace.rows.push_back({i, upright(i == 1 ? 5 : 0, 0, 10, 10), 1, i != 3});
  }
  // Frame 0 seeds, on frame 2 there is nothing, on frame 3 nothing is claimed: frame 1 is left.
  const OverlapPartMeans means = mean_overlap_parts(score_frames(truth, trace).frames, truth, trace);
  EXPECT_NEAR(*means.offset, 2.0 / 3, kRounding);
  EXPECT_NEAR(*means.covered, 0.5, kRounding);
  EXPECT_FALSE(mean_overlap_parts({}, truth, trace).offset);
}

}  // namespace mnemon
