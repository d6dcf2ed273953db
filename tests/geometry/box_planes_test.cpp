// SPDX-License-Identifier: MIT
#include <mnemon/geometry/box_planes.hpp>

#include <limits>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

Box random_or_odd_box(Random& random) {
  constexpr double kOdd[] = {0,
                             -3,
                             std::numeric_limits<double>::quiet_NaN(),
                             std::numeric_limits<double>::infinity(),
                             -std::numeric_limits<double>::infinity(),
                             1e308};
  Box box{random.uniform(-20, 20), random.uniform(-20, 20), random.uniform(1, 30), random.uniform(1, 30)};
  double* numbers[] = {&box.x, &box.y, &box.w, &box.h};
  if (random.bits() % 4 == 0) *numbers[random.bits() % 4] = kOdd[random.bits() % 6];
  return box;
}

}  // namespace

TEST(BoxPlanes, GiveTheBitsOfOnePairAtATime) {
  Random random(11);
  for (const std::size_t count : {0U, 1U, 7U, 8U, 15U, 16U, 17U, 33U, 64U}) {
    BoxBatch<64> a;
    BoxBatch<64> b;
    std::vector<double> wanted;
    for (std::size_t i = 0; i < count; ++i) {
      const Box one = random_or_odd_box(random);
      const Box other = random.bits() % 5 == 0 ? one : random_or_odd_box(random);
      a.add(one);
      b.add(other);
      wanted.push_back(overlap(one, other));
    }
    EXPECT_EQ(a.is_full(), count == 64);
    std::vector<double> found(count, -1);
    overlaps_into(a.planes(), b.planes(), found);
    EXPECT_EQ(found, wanted) << count;
  }
}

}  // namespace mnemon
