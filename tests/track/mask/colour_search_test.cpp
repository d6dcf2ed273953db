// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/colour_search.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

constexpr Box kSize{0, 0, 24, 24};

// Red squares on grey, in a light of that strength.
Image<Byte> squares(std::initializer_list<Point> middles, double light = 1) {
  Image<Byte> picture(160, 240, 3);
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c) {
      const bool is_red = std::ranges::any_of(middles, [&](Point middle) {
        return std::abs(c + 0.5 - middle.x) < 12 && std::abs(r + 0.5 - middle.y) < 12;
      });
      const double grey = 90 + 3 * ((r / 4 + c / 4) % 8);
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>(light * (is_red ? (k == 0 ? 190 : 40) : grey));
    }
  return picture;
}

// Red against that grey.
ColourModel red_on_grey() {
  const Image<Byte> picture = squares({{60, 60}});
  Image<Byte> labels(picture.rows(), picture.cols());
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c) labels(r, c) = picture(r, c, 0) == 190 ? 1 : 0;
  ColourModel model;
  for (int r = 0; r < picture.rows(); ++r) model.count(picture.view().row(r), &labels(r, 0), picture.cols());
  model.learn(1);
  return model;
}

}  // namespace

TEST(ColourSearch, FindsWhereTheColoursAre) {
  const ColourModel colours = red_on_grey();
  for (const double light : {1.0, 0.7}) {
    LightChange change(squares({{60, 60}}).view());
    ColourSearch search({240, 160});
    search.start();
    const Image<Byte> picture = squares({{180, 110}}, light);
    change.follow(picture.view());
    const Point found = search.find(test::frame_of(picture, 1), change, colours, kSize);
    EXPECT_NEAR(found.x, 180, 12) << light;
    EXPECT_NEAR(found.y, 110, 12) << light;
  }
}

TEST(ColourSearch, LooksBesideTheTarget) {
  const ColourModel colours = red_on_grey();
  const Image<Byte> picture = squares({{60, 60}, {180, 110}});
  const LightChange same(picture.view());
  ColourSearch search({240, 160});
  const Point found =
      search.find_beside(test::frame_of(picture, 1), same, colours, box_around({60, 60}, 24, 24));
  EXPECT_NEAR(found.x, 180, 12);
  EXPECT_NEAR(found.y, 110, 12);
}

// What was looked at and was not the target gives way to the next best place.
TEST(ColourSearch, LeavesOutWhatWasLookedAt) {
  const ColourModel colours = red_on_grey();
  const Image<Byte> picture = squares({{60, 60}, {180, 110}});
  const LightChange same(picture.view());
  ColourSearch search({240, 160});
  search.start();
  const Point first = search.find(test::frame_of(picture, 1), same, colours, kSize);
  search.leave_out(first);
  const Point second = search.find(test::frame_of(picture, 2), same, colours, kSize);
  EXPECT_GT(std::hypot(first.x - second.x, first.y - second.y), 100);
}

}  // namespace mnemon
