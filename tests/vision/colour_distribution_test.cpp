// SPDX-License-Identifier: MIT
#include <mnemon/vision/colour_distribution.hpp>

#include <gtest/gtest.h>

#include "vision/index_of.hpp"

namespace mnemon {
TEST(ColourDistribution, WeighsColoursByHowRareTheyAreAround) {
  ColourDistribution colours;
  const ColourIndex own = test::index_of({220, 30, 30});
  const ColourIndex shared = test::index_of({30, 30, 220});
  const ColourIndex other = test::index_of({30, 220, 30});
  for (int i = 0; i < 50; ++i) {
    colours.count_target(own, 1);
    colours.count_target(shared, 1);
    colours.count_around(shared, 1);
    colours.count_around(other, 1);
  }
  colours.learn(1, 1);
  EXPECT_GT(colours.weights()[own], 0.9f);
  EXPECT_LT(colours.weights()[shared], 0.05f);
  EXPECT_EQ(colours.weights()[other], 0);
}

TEST(ColourDistribution, LikenessIsOneForTheSameColoursAndNoneForOthers) {
  ColourDistribution colours;
  for (int i = 0; i < 10; ++i)
    colours.count_target(static_cast<ColourIndex>(300 * i), 1.0f + static_cast<float>(i));
  colours.learn(1, 1);
  for (int i = 0; i < 10; ++i)
    colours.count_target(static_cast<ColourIndex>(300 * i), 2.0f + 2.0f * static_cast<float>(i));
  EXPECT_NEAR(colours.likeness(), 1, 1e-6);
  colours.forget_counts();
  colours.count_target(4095, 1);
  EXPECT_LT(colours.likeness(), 0.4);
}

}  // namespace mnemon
