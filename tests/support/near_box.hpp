// SPDX-License-Identifier: MIT
#pragma once
#include <gtest/gtest.h>

#include <mnemon/geometry/box.hpp>

namespace mnemon::test {

// The same box but for the rounding of a few sums.
inline void expect_near(const Box& one, const Box& other) {
  constexpr double kRounding = 1e-9;
  EXPECT_NEAR(one.x, other.x, kRounding);
  EXPECT_NEAR(one.y, other.y, kRounding);
  EXPECT_NEAR(one.w, other.w, kRounding);
  EXPECT_NEAR(one.h, other.h, kRounding);
}

}  // namespace mnemon::test
