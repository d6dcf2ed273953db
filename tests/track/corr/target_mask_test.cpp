// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_mask.hpp>

#include <gtest/gtest.h>

#include <mnemon/track/corr/cell_features.hpp>
#include <mnemon/track/corr/target_colours.hpp>

#include "track/corr/green_ellipse.hpp"

namespace mnemon {
namespace {

using test::green_ellipse;
using test::likelihood_of;

}  // namespace

TEST(TargetMask, IsTheShapeOfAColouredTarget) {
  const Image<Byte> picture = green_ellipse(128, 28, 18);
  CellFeatures features(32, 32, 128, 128);
  features.take(picture.view(), {0, 0, 128, 128});
  const Point share{56 / 128.0, 36 / 128.0};
  ColourModel model;
  learn_colours(features.colours(), share, 1, model);
  Image<float> mask(32, 32);
  target_mask_into(likelihood_of(features, model).view(), share, mask.view());
  for (int r = 0; r < 32; ++r)
    for (int c = 0; c < 32; ++c) {
      const double u = (4 * c + 2 - 64) / 28.0;
      const double v = (4 * r + 2 - 64) / 18.0;
      if (u * u + v * v < 0.5) {
        EXPECT_GT(mask(r, c), 0.5f);
      } else if (u * u + v * v > 2) {
        EXPECT_LT(mask(r, c), 0.1f);
      }
    }
}

TEST(TargetMask, IsTheBoxWhereColoursTellNothing) {
  Image<Byte> flat(64, 64, 3);
  CellFeatures features(16, 16, 64, 64);
  features.take(flat.view(), {0, 0, 64, 64});
  ColourModel model;
  learn_colours(features.colours(), {0.5, 0.25}, 1, model);
  Image<float> mask(16, 16);
  target_mask_into(likelihood_of(features, model).view(), {0.5, 0.25}, mask.view());
  for (int r = 0; r < 16; ++r)
    for (int c = 0; c < 16; ++c) {
      const bool inside = c >= 4 && c < 12 && r >= 6 && r < 10;
      EXPECT_EQ(mask(r, c) > 0, inside) << r << ' ' << c;
    }
}

}  // namespace mnemon
