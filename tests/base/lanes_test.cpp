// SPDX-License-Identifier: MIT
#include <mnemon/base/lanes.hpp>

#include <array>
#include <numeric>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Lanes, GoToAndFromAnyAddress) {
  std::array<float, 20> from;
  std::iota(from.begin(), from.end(), 1.0f);
  std::array<float, 20> to{};
  store(load(from.data() + 3), to.data() + 1);
  store(load_four(from.data() + 11), to.data() + 9);
  for (int i = 1; i < 13; ++i) EXPECT_EQ(to[i], from[i + 2]);
  EXPECT_EQ(to[0], 0);
  EXPECT_EQ(to[13], 0);
}

TEST(Lanes, FallIntoHalves) {
  const Eight eight{1, 2, 3, 4, 5, 6, 7, 8};
  for (int i = 0; i < 4; ++i) {
    EXPECT_EQ(lower_half(eight)[i], eight[i]);
    EXPECT_EQ(upper_half(eight)[i], eight[4 + i]);
  }
}

TEST(Lanes, TurnRowsIntoColumns) {
  Four rows[4];
  for (int r = 0; r < 4; ++r)
    for (int c = 0; c < 4; ++c) rows[r][c] = static_cast<float>(10 * r + c);
  transpose(rows);
  for (int r = 0; r < 4; ++r)
    for (int c = 0; c < 4; ++c) EXPECT_EQ(rows[r][c], 10 * c + r);
}

}  // namespace mnemon
