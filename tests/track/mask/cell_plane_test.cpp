// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/cell_plane.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(CellPlane, PadsItsRowsWithNothing) {
  for (const int cols : {1, 15, 16, 17, 40}) {
    CellPlane plane(3, cols);
    EXPECT_EQ(plane.cols(), cols);
    EXPECT_EQ(padded(cols) % kCellLanes, 0);
    EXPECT_GT(padded(cols), cols);
    EXPECT_EQ(plane.all().size(), static_cast<std::size_t>(3 * padded(cols)));
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < cols; ++c) plane(r, c) = 1;
    double sum = 0;
    for (const float value : plane.all()) sum += value;
    EXPECT_EQ(sum, 3 * cols);
  }
}

TEST(CellPlane, TakesOverAnother) {
  CellPlane one(2, 5);
  CellPlane other(2, 5);
  other(1, 4) = 7;
  one.copy_from(other);
  EXPECT_EQ(one.view()(1, 4), 7);
}

TEST(CellPlane, PartsAddUp) {
  Parts parts{};
  for (int i = 0; i < kCellLanes; ++i) parts[i] = static_cast<float>(i);
  EXPECT_EQ(sum_of(parts), kCellLanes * (kCellLanes - 1) / 2);
}

}  // namespace mnemon
