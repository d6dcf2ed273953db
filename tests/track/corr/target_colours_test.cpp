// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_colours.hpp>

#include <gtest/gtest.h>

#include <mnemon/track/corr/cell_features.hpp>

#include "track/corr/green_ellipse.hpp"

namespace mnemon {
namespace {

using test::green_ellipse;
using test::likelihood_of;

}  // namespace

TEST(CellLikelihood, IsTheMeanOfItsSamples) {
  const Image<Byte> picture = green_ellipse(64, 14, 9);
  CellFeatures features(16, 16, 64, 64);
  features.take(picture.view(), {0, 0, 64, 64});
  ColourModel model;
  learn_colours(features.colours(), {0.4, 0.3}, 1, model);
  const Image<float> cells = likelihood_of(features, model);
  for (int r = 0; r < 16; ++r)
    for (int c = 0; c < 16; ++c) {
      double sum = 0;
      for (int i = 0; i < 16; ++i) sum += model.likelihood(features.colours()(4 * r + i / 4, 4 * c + i % 4));
      EXPECT_NEAR(cells(r, c), sum / 16, 1e-6);
    }
}

}  // namespace mnemon
