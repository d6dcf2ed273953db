// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/cell_features.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/signal/windows.hpp>

#include "track/corr/green_ellipse.hpp"

namespace mnemon {
namespace {

using test::green_ellipse;

}  // namespace

TEST(CellFeatures, HoldTheirChannelsTaperedAndCentred) {
  const Image<Byte> picture = green_ellipse(128, 28, 18);
  CellFeatures features(32, 32, 128, 128);
  const auto stack = features.take(picture.view(), {0, 0, 128, 128});
  EXPECT_EQ(stack.channels, CellFeatures::kChannels);
  const Image<float> taper = cosine_window(32, 32);
  for (int k = CellFeatures::kGrey; k < CellFeatures::kChannels; ++k) {
    double sum = 0;
    for (int r = 0; r < 32; ++r)
      for (int c = 0; c < 32; ++c) sum += stack(r, c, k) / taper(r, c);
    EXPECT_NEAR(sum / 1024, 0, 1e-4) << k;
  }
  EXPECT_GT(stack(16, 16, CellFeatures::kColour + 4), 0.3f);  // green stands out in the middle
}

// Of the middle alone the same features are told, but for cells at its rim, and nothing else. A turned window is
// interpolated out of samples of its own: there they are only much alike.
TEST(CellFeatures, TellOfTheMiddleWhatTheyTellOfAll) {
  const Image<Byte> picture = green_ellipse(128, 28, 18);
  CellFeatures features(32, 20, 128, 128);
  features.keep_to_middle(16, 10);
  for (const OrientedBox& window : {OrientedBox{{3, -5, 120, 110}, 0}, OrientedBox{{10, 10, 100, 90}, 25}}) {
    const Image<float> all = copy_of(features.take(picture.view(), window));
    const auto middle = features.take_target(picture.view(), window);
    double shared = 0;
    double own = 0;
    double other = 0;
    for (int r = 0; r < 32; ++r)
      for (int c = 0; c < 20; ++c)
        for (int k = 0; k < CellFeatures::kChannels; ++k) {
          if (r < 8 || r >= 24 || c < 5 || c >= 15) {
            EXPECT_EQ(middle(r, c, k), 0);
          }
          if (r < 10 || r >= 22 || c < 7 || c >= 13) continue;
          if (window.angle_deg == 0) {
            EXPECT_NEAR(middle(r, c, k), all(r, c, k), 1e-4);
          }
          shared += middle(r, c, k) * all(r, c, k);
          own += middle(r, c, k) * middle(r, c, k);
          other += all(r, c, k) * all(r, c, k);
        }
    EXPECT_GT(shared / std::sqrt(own * other), 0.9);
  }
}

TEST(CellFeatures, TellAllWhereNoMiddleIsKeptTo) {
  const Image<Byte> picture = green_ellipse(128, 28, 18);
  CellFeatures features(16, 16, 128, 128);
  features.keep_to_middle(16, 16);
  const Image<float> all = copy_of(features.take(picture.view(), {0, 0, 128, 128}));
  const auto again = features.take_target(picture.view(), {0, 0, 128, 128});
  EXPECT_TRUE(std::ranges::equal(again.elements(), all.elements()));
}

}  // namespace mnemon
