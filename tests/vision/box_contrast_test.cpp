// SPDX-License-Identifier: MIT
#include <mnemon/vision/box_contrast.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/vision/colour_index.hpp>

namespace mnemon {
namespace {

// A picture of two colours: one in the ellipse of a box, the other around it.
class TwoColours : public testing::Test {
 protected:
  TwoColours() {
    for (int r = 0; r < picture.rows(); ++r)
      for (int c = 0; c < picture.cols(); ++c) {
        const double u = (c + 0.5 - 80) / 30;
        const double v = (r + 0.5 - 60) / 20;
        for (int k = 0; k < 3; ++k) picture(r, c, k) = u * u + v * v < 1 ? 200 : 40;
      }
    const Byte inside[] = {200, 200, 200};
    table[colour_index(inside)] = 1;
  }
  [[nodiscard]] double of(const Box& box) const { return box_contrast(picture.view(), table.data(), box); }

  Image<Byte> picture{120, 160, 3};
  std::vector<float> table = std::vector<float>(kColours);
  const Box target{50, 40, 60, 40};
};

TEST_F(TwoColours, IsOneOnWhatAloneHasTheColour) { EXPECT_NEAR(of(target), 1, 0.03); }

TEST_F(TwoColours, IsNoneWhereThereIsNothing) {
  EXPECT_EQ(of({5, 90, 20, 15}), 0);
  EXPECT_EQ(of({-200, -200, 20, 15}), 0);
  std::ranges::fill(table, 0.7f);
  EXPECT_NEAR(of(target), 0, 1e-6);
}

// Half as large it sees the same inside, and the target around it. Twice as large, only a quarter of its inside is the target.
TEST_F(TwoColours, FallsWhereTheSizeIsWrong) {
  EXPECT_LT(of({65, 50, 30, 20}), 0.3);
  EXPECT_NEAR(of({20, 20, 120, 80}), 0.25, 0.05);
  EXPECT_GT(of(target), of({55, 44, 60, 40}));
}

TEST_F(TwoColours, IsBelowZeroBesideIt) { EXPECT_LT(of({28, 45, 22, 30}), 0); }

// What lies beyond the picture does not count.
TEST_F(TwoColours, GoesByThePartInThePicture) {
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c)
      for (int k = 0; k < 3; ++k) picture(r, c, k) = c < 20 && r >= 40 && r < 80 ? 200 : 40;
  EXPECT_GT(of({-20, 40, 40, 40}), 0.7);
}

}  // namespace
}  // namespace mnemon
