// SPDX-License-Identifier: MIT
#include <mnemon/score/spread.hpp>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/score/order.hpp>

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

TEST(SpreadSort, AgreesWithSorting) {
  Random random(3);
  for (const std::size_t count : {0U, 1U, 2U, 15U, 16U, 17U, 48U, 49U, 200U, 5000U})
    for (int shape = 0; shape < 7; ++shape) {
      std::vector<double> values = values_of(shape, count, random);
      std::vector<double> wanted = values;
      std::sort(wanted.begin(), wanted.end());
      const std::vector<double> unsorted = values;
      values = detail::in_order(std::span<const double>(unsorted), std::identity());
      EXPECT_EQ(values, wanted) << count << " of shape " << shape;
      if (count == 0) continue;
      const std::vector<double> shares{0, 0.01, 0.5, 0.95, 0.99, 1};
      const auto found = percentiles(unsorted, shares);
      for (std::size_t i = 0; i < shares.size(); ++i) {
        const double place = shares[i] * static_cast<double>(count - 1);
        const double low = wanted[static_cast<std::size_t>(std::floor(place))];
        const double high = wanted[static_cast<std::size_t>(std::ceil(place))];
        const double between = low == high ? low : low + (place - std::floor(place)) * (high - low);
        EXPECT_EQ(found[i], between) << shares[i] << " of " << count << " of shape " << shape;
      }
    }
}

TEST(SpreadSort, TakesWhatBelongsToAValueAlong) {
  struct Named {
    double key;
    int id;
  };
  Random random(4);
  std::vector<Named> values;
  for (int i = 0; i < 3000; ++i) values.push_back({std::floor(300 * random.uniform()), i});
  std::vector<double> key_of;
  for (const Named& value : values) key_of.push_back(value.key);
  values = detail::in_order(std::span<const Named>(values), [](const Named& value) { return value.key; });
  for (std::size_t i = 0; i < values.size(); ++i) {
    EXPECT_EQ(values[i].key, key_of[static_cast<std::size_t>(values[i].id)]);
    if (i > 0) {
      EXPECT_LE(values[i - 1].key, values[i].key);
    }
  }
}

TEST(Percentiles, AreNothingOfNothing) {
  const std::vector<double> shares{0.5, 1};
  EXPECT_EQ(percentiles({}, shares), (std::vector<Figure>{{}, {}}));
}

}  // namespace mnemon
