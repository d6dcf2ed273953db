// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/loss_search.hpp>

#include <cmath>
#include <set>
#include <utility>

#include <gtest/gtest.h>

namespace mnemon {
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

}  // namespace mnemon
