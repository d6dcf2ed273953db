// SPDX-License-Identifier: MIT
#include <mnemon/score/order.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

// Values of many shapes: even, all alike, with far outliers, over many magnitudes, rising, infinite.
std::vector<double> values_of(int shape, std::size_t count, Random& random) {
  std::vector<double> values(count);
  for (std::size_t i = 0; i < count; ++i) {
    const double u = random.uniform();
    const double shapes[] = {u,
                             0.25,
                             i == 0 ? 1e9 : u,
                             std::exp(200 * u - 100),
                             static_cast<double>(i),
                             u < 0.1 ? std::numeric_limits<double>::infinity() : u,
                             std::floor(5 * u) - 2};
    values[i] = shapes[shape];
  }
  return values;
}

}  // namespace

constexpr std::size_t kCounts[] = {0, 1, 2, 15, 16, 17, 48, 49, 200, 5000, 70000};

TEST(RisingOrder, IsEachPlaceOnceByRisingValue) {
  Random random(3);
  for (const std::size_t count : kCounts)
    for (int shape = 0; shape < 7; ++shape) {
      const std::vector<double> values = values_of(shape, count, random);
      const std::vector<std::uint32_t> order = rising_order(values);
      ASSERT_EQ(order.size(), count);
      std::vector<char> is_there(count);
      for (std::size_t i = 0; i < count; ++i) {
        ASSERT_LT(order[i], count);
        is_there[order[i]] = 1;
        if (i > 0) {
          ASSERT_LE(values[order[i - 1]], values[order[i]]) << count << " of shape " << shape;
        }
      }
      EXPECT_EQ(std::ranges::count(is_there, 1), static_cast<std::ptrdiff_t>(count));
    }
}

TEST(Percentiles, AgreeWithSorting) {
  Random random(4);
  for (const std::size_t count : kCounts)
    for (int shape = 0; shape < 7 && count > 0; ++shape) {
      const std::vector<double> values = values_of(shape, count, random);
      std::vector<double> sorted = values;
      std::ranges::sort(sorted);
      const std::vector<double> shares{0.95, 0, 0.01, 0.5, 0.99, 1, 0.5};
      const auto found = percentiles(values, shares);
      for (std::size_t i = 0; i < shares.size(); ++i) {
        const double place = shares[i] * static_cast<double>(count - 1);
        const double low = sorted[static_cast<std::size_t>(std::floor(place))];
        const double high = sorted[static_cast<std::size_t>(std::ceil(place))];
        const double between = low == high ? low : low + (place - std::floor(place)) * (high - low);
        EXPECT_EQ(found[i], between) << shares[i] << " of " << count << " of shape " << shape;
      }
    }
}

TEST(Percentiles, AreNothingOfNothing) {
  const std::vector<double> shares{0.5, 1};
  EXPECT_EQ(percentiles({}, shares), (std::vector<Figure>{{}, {}}));
}

}  // namespace mnemon
