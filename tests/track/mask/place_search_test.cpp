// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/place_search.hpp>

#include <algorithm>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/mask/mask_target.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

using test::DrawnTarget;
using test::frame_of;

}  // namespace

// The target elsewhere, and larger or smaller than a coarse cell divides: the place within half a coarse cell.
TEST(PlaceSearch, FindsTheTargetWhereverItIs) {
  for (const double size : {8.0, 20.0, 45.0}) {
    const Ellipse ellipse{{110, 80}, size, 0.8 * size, 0};
    const Box box = test::box_around_drawn(ellipse);
    MaskTarget target;
    (void)target.start(frame_of(test::drawn_picture(std::vector<DrawnTarget>{{ellipse}}, 160, 220, 1), 0),
                       Region(box), box, {});
    for (const Point moved : {Point{0, 0}, Point{0.6 * size, -0.4 * size}, Point{-0.9 * size, 0.7 * size}}) {
      const Ellipse there{{110 + moved.x, 80 + moved.y}, size, 0.8 * size, 0};
      const Image<Byte> picture = test::drawn_picture(std::vector<DrawnTarget>{{there}}, 160, 220, 2);
      TargetPatch patch;
      patch.look(frame_of(picture, 1), ellipse.middle, 3.2 * size + 2 * size, 3.2 * size + 2 * size, 1,
                 target.colours());
      PlaceSearch search;
      const Point found = search.find(patch, target.appearance(), {ellipse.middle, 1, 0, 0}, size);
      const double coarse = std::max(1.0, 2 * size / 11);
      EXPECT_NEAR(found.x, there.middle.x, 0.5 * coarse) << size;
      EXPECT_NEAR(found.y, there.middle.y, 0.5 * coarse) << size;
      const ImageView<const float> differences = search.differences();
      EXPECT_EQ(*std::ranges::max_element(differences.elements()), 0);
    }
  }
}

}  // namespace mnemon
