// SPDX-License-Identifier: MIT
#include <mnemon/image/levels.hpp>

#include <gtest/gtest.h>

namespace mnemon {

TEST(Levels, AreTheLeastAndTheLargestOfAllChannels) {
  Image<float> picture(2, 3, 2);
  picture(1, 2, 1) = 4.5f;
  picture(0, 1, 0) = -2;
  EXPECT_EQ(levels_of(picture.view()), (Levels{-2, 4.5f}));
  EXPECT_EQ(levels_of(Image<float>().view()), Levels{});
}

TEST(BytesBetween, GoFromBlackToWhite) {
  Image<float> picture(1, 4, 1);
  for (int c = 0; c < 4; ++c) picture(0, c) = static_cast<float>(c);
  const Image<Byte> bytes = bytes_between(picture.view(), {0, 2});
  EXPECT_EQ(bytes(0, 0), 0);
  EXPECT_EQ(bytes(0, 1), 128);  // 127.5 is rounded away from 0
  EXPECT_EQ(bytes(0, 2), 255);
  EXPECT_EQ(bytes(0, 3), 255);  // above the levels
  EXPECT_EQ(bytes_between(picture.view(), {1, 1})(0, 1), 0);
}

}  // namespace mnemon
