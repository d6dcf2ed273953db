// SPDX-License-Identifier: MIT
#include <mnemon/image/arithmetic.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

std::vector<float> random_values(int count, double low, double high) {
  Random random(static_cast<std::uint64_t>(count) + 1);
  std::vector<float> values(count);
  for (float& v : values) v = static_cast<float>(random.uniform(low, high));
  return values;
}

constexpr int kSizes[] = {0, 1, 15, 16, 17, 33, 1000};

}  // namespace

TEST(Sums, AgreeWithDoublePrecision) {
  for (const int size : kSizes) {
    const auto values = random_values(size, -1, 1);
    double sum = 0;
    double squares = 0;
    double products = 0;
    const auto others = random_values(size, -1, 0.5);
    for (int i = 0; i < size; ++i) {
      sum += values[i];
      squares += static_cast<double>(values[i]) * values[i];
      products += static_cast<double>(values[i]) * others[i];
    }
    // Each addition rounds by at most half a unit in the last place of a sum below `size`.
    const double bound = 6e-8 * size * (size / 16.0 + 16) + 1e-12;
    EXPECT_NEAR(sum_of(values), sum, bound);
    EXPECT_NEAR(sum_of_squares(values), squares, bound);
    EXPECT_NEAR(dot(values, others), products, bound);
  }
}

TEST(Log1pInPlace, IsTheLogarithm) {
  for (const int size : kSizes) {
    auto values = random_values(size, 0, 300);
    const auto before = values;
    log1p_in_place(values);
    for (int i = 0; i < size; ++i) EXPECT_NEAR(values[i], std::log1p(before[i]), 1e-5);
  }
  std::vector<float> ends{0.0f, 1e6f};
  log1p_in_place(ends);
  EXPECT_NEAR(ends[0], 0, 1e-6);
  EXPECT_NEAR(ends[1], std::log1p(1e6), 1e-5);
}

TEST(NormaliseAndTaper, GivesMeanZeroAndNormOne) {
  for (const int size : {15, 16, 17, 1000}) {
    auto values = random_values(size, 50, 200);
    normalise_and_taper(values, std::vector<float>(size, 1.0f));
    EXPECT_NEAR(sum_of(values), 0, 1e-4);
    EXPECT_NEAR(sum_of_squares(values), 1, 1e-4);
  }
}

TEST(NormaliseAndTaper, DoesNotCareForBrightnessAndContrast) {
  auto a = random_values(500, 0, 1);
  auto b = a;
  for (float& v : b) v = 3 * v + 7;
  const auto taper = random_values(500, 0.1, 1);
  normalise_and_taper(a, taper);
  normalise_and_taper(b, taper);
  for (int i = 0; i < 500; ++i) EXPECT_NEAR(a[i], b[i], 2e-6);
}

TEST(NormaliseAndTaper, MakesAFlatPatchZero) {
  for (const float level : {0.0f, 4.2f, 255.0f}) {
    std::vector<float> flat(777, level);
    normalise_and_taper(flat, std::vector<float>(777, 1.0f));
    for (const float v : flat) EXPECT_EQ(v, 0.0f);
  }
}

TEST(Exponential, IsThatOfTheLibraryToAFewRoundings) {
  EXPECT_EQ(exp_of_negative(0), 1);
  for (double v = 0; v > -80; v -= 0.0137) {
    const auto at = static_cast<float>(v);
    // The series' first term left out is 1.2e-7, rounding of the seven kept ones about as much.
    EXPECT_NEAR(exp_of_negative(at) / std::exp(static_cast<double>(at)), 1, 5e-7) << v;
  }
  EXPECT_EQ(exp_of_negative(-1000), exp_of_negative(-80));
}

TEST(BlendTowards, MovesEachElementByItsRate) {
  for (const int size : kSizes) {
    const auto from = random_values(size, -1, 1);
    const auto before = random_values(size + 1, -5, 5);
    std::vector<float> to(before.begin(), before.begin() + size);
    blend_towards(from, 0, to);
    EXPECT_TRUE(std::equal(to.begin(), to.end(), before.begin()));
    blend_towards(from, 0.25f, to);
    for (int i = 0; i < size; ++i) EXPECT_NEAR(to[i], 0.75 * before[i] + 0.25 * from[i], 1e-6);
  }
}

}  // namespace mnemon
