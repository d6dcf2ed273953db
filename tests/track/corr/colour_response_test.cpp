// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/colour_response.hpp>

#include <gtest/gtest.h>

#include <mnemon/signal/peak.hpp>
#include <mnemon/track/corr/cell_features.hpp>
#include <mnemon/track/corr/target_colours.hpp>

#include "track/corr/green_ellipse.hpp"

namespace mnemon {
namespace {

using test::green_ellipse;
using test::likelihood_of;

}  // namespace

TEST(ColourResponse, PeaksWhereTheColouredTargetIs) {
  const Image<Byte> picture = green_ellipse(160, 20, 16);
  CellFeatures features(32, 32, 128, 128);
  const Point share{40 / 128.0, 32 / 128.0};
  features.take(picture.view(), {16, 16, 128, 128});
  ColourModel model;
  learn_colours(features.colours(), share, 1, model);
  features.take(picture.view(), {4, 24, 128, 128});  // the target is now 12 px right of the middle, 8 above
  ColourResponse response(32, 32);
  const Cell peak = highest_cell(response.find(likelihood_of(features, model).view(), share));
  EXPECT_NEAR(peak.col, 16 + 3, 1);
  EXPECT_NEAR(peak.row, 16 - 2, 1);
}

}  // namespace mnemon
