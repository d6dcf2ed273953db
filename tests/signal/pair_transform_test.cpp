// SPDX-License-Identifier: MIT
#include <mnemon/signal/pair_transform.hpp>

#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>

#include "support/messages.hpp"

namespace mnemon {
namespace {

Image<float> random_stack(const PairTransform& transform, std::uint64_t key) {
  Image<float> stack = transform.make_stack();
  Random random(key);
  for (float& v : stack.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return stack;
}

std::complex<double> slow_transform(const Image<float>& stack, int u, int v, int pair) {
  std::complex<double> sum;
  for (int r = 0; r < stack.rows(); ++r)
    for (int c = 0; c < stack.cols(); ++c) {
      const double angle =
          -2 * std::numbers::pi * (double(u) * r / stack.rows() + double(v) * c / stack.cols());
      sum += std::complex<double>(stack(r, c, 2 * pair), stack(r, c, 2 * pair + 1)) * std::polar(1.0, angle);
    }
  return sum;
}

}  // namespace

TEST(PairTransform, IsTheSumOverAllPlacesOfComplexPairs) {
  for (const auto& [rows, cols, channels] : {std::array{1, 1, 2}, {5, 8, 4}, {16, 20, 6}}) {
    const PairTransform transform(rows, cols, channels);
    const Image<float> stack = random_stack(transform, 3);
    Image<Complex> spectrum = transform.make_spectrum();
    transform.forward_into(stack.view(), spectrum.view());
    for (int u = 0; u < rows; ++u)
      for (int v = 0; v < cols; ++v)
        for (int pair = 0; pair < channels / 2; ++pair) {
          const std::complex<double> right = slow_transform(stack, u, v, pair);
          EXPECT_NEAR(spectrum(u, v, pair).real(), right.real(), 1e-4);
          EXPECT_NEAR(spectrum(u, v, pair).imag(), right.imag(), 1e-4);
        }
  }
}

TEST(PairTransform, InverseUndoesForwardButForTheScale) {
  const PairTransform transform(32, 20, 8);
  const Image<float> stack = random_stack(transform, 4);
  Image<Complex> spectrum = transform.make_spectrum();
  Image<float> back = transform.make_stack();
  transform.forward_into(stack.view(), spectrum.view());
  transform.inverse_unscaled_into(spectrum.view(), back.view());
  for (std::size_t i = 0; i < stack.elements().size(); ++i)
    EXPECT_NEAR(back.elements()[i] / (32 * 20), stack.elements()[i], 1e-5);
}

TEST(PairTransform, RefusesOddChannelsAndEmptyShapes) {
  test::expect_parts(test::message_of<CallError>([] { PairTransform(8, 8, 3); }), {"8 x 8 x 3", "even"});
  EXPECT_THROW(PairTransform(0, 8, 2), CallError);
}

TEST(FastSide, IsTheNearestOfTheFastSizesByRatio) {
  EXPECT_EQ(fast_side(1), 16);
  EXPECT_EQ(fast_side(17), 16);
  EXPECT_EQ(fast_side(19), 20);
  EXPECT_EQ(fast_side(33), 32);
  EXPECT_EQ(fast_side(46), 64);
  EXPECT_EQ(fast_side(1000), 128);
  EXPECT_EQ(fast_side(96), 128);
  EXPECT_EQ(fast_side(96, true), 100);
  EXPECT_EQ(fast_side(71, true), 64);
  EXPECT_EQ(fast_side(72, true), 80);
}

}  // namespace mnemon
