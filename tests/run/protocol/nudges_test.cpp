// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/nudges.hpp>

#include <cmath>
#include <set>
#include <utility>

#include <gtest/gtest.h>

#include <mnemon/run/protocol.hpp>

#include "run/protocol/truth_of.hpp"

namespace mnemon {
namespace {

using test::truth_of;

}  // namespace

TEST(Nudges, MoveInEightDirectionsAndScaleByFour) {
  const auto starts = starts_of(make_protocol("nudges"), truth_of({0, 1, 1}));
  ASSERT_EQ(starts.size(), 12U);
  const Box truth{1, 10, 20, 40};
  std::set<std::pair<int, int>> directions;
  for (int i = 0; i < 8; ++i) {
    EXPECT_EQ(starts[i].frame, 1);
    EXPECT_EQ(starts[i].box.box.w, 20);
    EXPECT_EQ(starts[i].box.box.h, 40);
    const double dx = (starts[i].box.box.x - truth.x) / 2;  // a tenth of the width is 2 px, of the height 4
    const double dy = (starts[i].box.box.y - truth.y) / 4;
    EXPECT_NEAR(dx, std::round(dx), 1e-12);
    EXPECT_NEAR(dy, std::round(dy), 1e-12);
    directions.emplace(std::lround(dx), std::lround(dy));
  }
  EXPECT_EQ(directions.size(), 8U);
  EXPECT_FALSE(directions.contains({0, 0}));
  const double factors[] = {0.8, 0.9, 1.1, 1.2};
  for (int i = 0; i < 4; ++i) {
    const Box& box = starts[8 + i].box.box;
    EXPECT_NEAR(box.w, 20 * factors[i], 1e-12);
    EXPECT_NEAR(centre(box).x, centre(truth).x, 1e-12);
    EXPECT_NEAR(centre(box).y, centre(truth).y, 1e-12);
  }
}

TEST(Nudges, GoAlongATurnedBoxesOwnAxes) {
  Truth truth;
  truth.rows.push_back({0, {{30, 30, 20, 40}, 90}, true, 1, {}});
  const auto starts = starts_of(make_protocol("nudges"), truth);
  // Turned by a quarter, the width points down.
  EXPECT_EQ(starts[0].box.angle_deg, 90);
  EXPECT_NEAR(starts[0].box.box.w, 20, 1e-9);
  EXPECT_NEAR(starts[0].box.box.h, 40, 1e-9);
  EXPECT_NEAR(centre(starts[0].box.box).x, 40, 1e-9);
  EXPECT_NEAR(centre(starts[0].box.box).y, 50 + 2, 1e-9);
}

}  // namespace mnemon
