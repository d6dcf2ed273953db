// SPDX-License-Identifier: MIT
#include <mnemon/image/box_blur.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

// The share of [-width / 2, width / 2] that lies over the value so many steps away.
double covered(int away, double width) {
  const double from = std::max(away - 0.5, -0.5 * width);
  const double to = std::min(away + 0.5, 0.5 * width);
  return std::max(0.0, to - from) / width;
}

double blurred_at(const Image<float>& picture, int row, int col, double width) {
  double sum = 0;
  for (int i = -40; i <= 40; ++i)
    for (int k = -40; k <= 40; ++k)
      sum += covered(i, width) * covered(k, width) *
             picture(std::clamp(row + i, 0, picture.rows() - 1), std::clamp(col + k, 0, picture.cols() - 1));
  return sum;
}

}  // namespace

TEST(BoxBlur, IsTheMeanOverASquareOfAnyWidth) {
  Random random(4);
  Image<float> picture(11, 17);
  for (float& value : picture.elements()) value = static_cast<float>(random.uniform());
  Image<float> out(11, 17);
  BoxBlur blur(11, 17);
  for (const double width : {1.4, 2.0, 3.0, 3.7, 5.2, 9.9, 40.0}) {  // the last reaches beyond all edges
    blur.blur_into(std::as_const(picture).view(), width, out.view());
    for (int r = 0; r < 11; ++r)
      for (int c = 0; c < 17; ++c)
        EXPECT_NEAR(out(r, c), blurred_at(picture, r, c, width), 1e-5) << width << ": " << r << ", " << c;
  }
}

TEST(BoxBlur, CopiesWhereASquareIsNoLargerThanAValue) {
  Image<float> picture(3, 4);
  for (int i = 0; i < 12; ++i) picture.elements()[i] = static_cast<float>(i * i);
  Image<float> out(3, 4);
  BoxBlur blur(3, 4);
  for (const double width : {0.0, 0.6, 1.0}) {
    blur.blur_into(std::as_const(picture).view(), width, out.view());
    EXPECT_TRUE(std::ranges::equal(out.elements(), picture.elements())) << width;
  }
}

}  // namespace mnemon
