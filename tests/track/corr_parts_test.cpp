// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/signal/windows.hpp>
#include <mnemon/track/corr/cell_features.hpp>
#include <mnemon/track/corr/colour_response.hpp>
#include <mnemon/track/corr/loss_search.hpp>
#include <mnemon/track/corr/peak_judge.hpp>
#include <mnemon/track/corr/target_colours.hpp>
#include <mnemon/track/corr/target_mask.hpp>
#include <mnemon/track/hold/forecast.hpp>

namespace mnemon {
namespace {

// A green ellipse on grey ground with some noise.
Image<Byte> green_ellipse(int side, double half_w, double half_h) {
  Image<Byte> picture(side, side, 3);
  Random random(9);
  for (int r = 0; r < side; ++r)
    for (int c = 0; c < side; ++c) {
      const double u = (c + 0.5 - side / 2.0) / half_w;
      const double v = (r + 0.5 - side / 2.0) / half_h;
      const bool inside = u * u + v * v < 1;
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>((inside && k != 1 ? 30
                                              : inside         ? 190
                                                               : 110) +
                                             random.uniform(0, 20));
    }
  return picture;
}

Image<float> likelihood_of(const CellFeatures& features, const ColourModel& model) {
  Image<float> cells(features.stack().rows, features.stack().cols);
  cell_likelihood_into(features.colours(), model, cells.view());
  return cells;
}

}  // namespace

TEST(PeakJudge, MeasuresPeaksByThoseItAccepted) {
  PeakJudge judge({0.5, 4, 1});
  Peak peak{{3, 3}, {}, 0.8, 20};
  for (int i = 0; i < 5; ++i) judge.accept(peak);
  EXPECT_GT(judge.confidence(peak), 0.9);
  peak.height *= 0.5;
  peak.sidelobe *= 0.5;
  EXPECT_NEAR(judge.confidence(peak), 0.5, 1e-9);
  peak.height *= 0.3;
  EXPECT_LT(judge.confidence(peak), 0.2);
  peak.height = 0;
  EXPECT_EQ(judge.confidence(peak), 0);
}

TEST(PeakJudge, DoubtsAPeakThatIsNone) {
  PeakJudge judge({0.5, 4, 6});
  EXPECT_LT(judge.confidence({{0, 0}, {}, 1, 2}), 0.05);
  EXPECT_NEAR(judge.confidence({{0, 0}, {}, 1, 6}), 0.5, 1e-9);
}

TEST(Forecast, KeepsAQuarterOfTheTargetInView) {
  const FrameSize size{200, 100};
  for (const Point place : {Point{100, 50}, {-9.9, 104}, {209, -4.9}})
    EXPECT_EQ(kept_in_view(place, 40, 20, size), place);
  EXPECT_EQ(kept_in_view({-30, 130}, 40, 20, size), (Point{-10, 105}));
  Forecast motion(size);
  for (int i = 0; i < 30; ++i) motion.found({150.0 + i, 50}, {151.0 + i, 50});
  EXPECT_NEAR(motion.of({180, 50}, 40, 20).x, 181, 1e-3);
  EXPECT_EQ(motion.of({210, 50}, 40, 20).x, 210);
}

TEST(LossSearch, GoesOutwardsOverTheWholePictureAndAgain) {
  LossSearch search({100, 60}, 20, 20);
  search.start({10, 50});
  double last = 0;
  std::set<std::pair<double, double>> seen;
  Point first;
  for (int i = 0; i < 15; ++i) {
    const Point place = search.next();
    if (i == 0) first = place;
    const double distance = std::hypot(place.x - 10, place.y - 50);
    EXPECT_GE(distance, last);
    last = distance;
    seen.insert({place.x, place.y});
  }
  EXPECT_EQ(seen.size(), 15u);
  EXPECT_EQ(search.next(), first);
}

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
