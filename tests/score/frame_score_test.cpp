// SPDX-License-Identifier: MIT
#include <mnemon/score/frame_score.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include "score/slow_score.hpp"

namespace mnemon {
TEST(AngleError, IsTheSmallestTurnOfBothTurned) {
  const auto error = [](double a, double b) {
    return compare({1, {{0, 0, 10, 5}, a}, true, 1}, {1, {{0, 0, 10, 5}, b}, 1, true, {}, Event::none})
        .angle_error_deg;
  };
  EXPECT_NEAR(*error(80, -80), 20, 1e-12);
  EXPECT_NEAR(*error(10, 100), 90, 1e-12);
  EXPECT_FALSE(error(0, 30));
  EXPECT_FALSE(error(30, 180));
}

}  // namespace mnemon
