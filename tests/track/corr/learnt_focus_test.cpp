// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/learnt_focus.hpp>

#include <algorithm>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

const PatchWindow kSquare(60, 60, {3, 0, 64, 1});  // the target takes 21 of its 64 cells each way

// What becomes of a stack of ones, two channels a cell.
Image<float> left_of_ones(LearntFocus focus) {
  Image<float> ones(64, 64, 2);
  std::ranges::fill(ones.elements(), 1.0f);
  return copy_of(focus.of(ones.view()));
}

class Remembers final : public WindowFeatures {
 public:
  ImageView<const float> take(ImageView<const Byte> /*rgb*/,
                              const OrientedBox& /*window*/) noexcept override {
    return {};
  }
  void keep_to_middle(int rows, int cols) override { asked = {rows, cols}; }
  Cell asked{0, 0};
};

}  // namespace

TEST(LearntFocus, OfNoSizeLearnsTheWholeWindow) {
  const Image<float> all = left_of_ones(LearntFocus(kSquare, 0));
  EXPECT_EQ(std::ranges::min(all.elements()), 1);
  Remembers features;
  LearntFocus(kSquare, 0).keep_to_middle(features);
  EXPECT_EQ(features.asked, (Cell{0, 0}));
}

TEST(LearntFocus, LearnsTheTargetAndFadesOutAllElse) {
  const Image<float> left = left_of_ones(LearntFocus(kSquare, 1.5));
  EXPECT_GT(left(32, 32, 1), 0.99f);
  EXPECT_GT(left(32, 42, 0), 0.9f);   // the target's last cell
  EXPECT_LT(left(32, 56, 0), 0.05f);  // 1.5 times the focus from the middle
  for (int c = 33; c < 64; ++c) EXPECT_LE(left(32, c, 0), left(32, c - 1, 0)) << c;
  EXPECT_FLOAT_EQ(left(32, 40, 0), left(40, 32, 1));
}

// Beyond the cells that are kept to, less than a twentieth is learnt.
TEST(LearntFocus, KeepsToTheCellsThatCount) {
  Remembers features;
  LearntFocus(kSquare, 1.25).keep_to_middle(features);
  EXPECT_EQ(features.asked.row, features.asked.col);
  ASSERT_LT(features.asked.col, 64);
  const Image<float> left = left_of_ones(LearntFocus(kSquare, 1.25));
  EXPECT_LT(left(32, 32 + features.asked.col / 2, 0), 0.05f);
}

}  // namespace mnemon
