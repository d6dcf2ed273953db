// SPDX-License-Identifier: MIT
#include <mnemon/signal/stack_transform.hpp>

#include <algorithm>
#include <complex>
#include <numbers>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/base/workers.hpp>

namespace mnemon {
namespace {

Image<float> random_stack(int rows, int cols, int channels, std::uint64_t key) {
  Image<float> stack(rows, cols, channels);
  Random random(key);
  for (float& v : stack.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return stack;
}

std::complex<double> slow_sum(const Image<float>& stack, int u, int v, int channel) {
  std::complex<double> sum;
  for (int r = 0; r < stack.rows(); ++r)
    for (int c = 0; c < stack.cols(); ++c) {
      const double turn =
          static_cast<double>(u) * r / stack.rows() + static_cast<double>(v) * c / stack.cols();
      sum += static_cast<double>(stack(r, c, channel)) * std::polar(1.0, -2 * std::numbers::pi * turn);
    }
  return sum;
}

struct Shape {
  int rows;
  int cols;
  int channels;
};

constexpr Shape kShapes[] = {{1, 1, 1}, {1, 8, 1}, {5, 7, 3}, {16, 16, 1}, {9, 12, 8}, {17, 15, 2}};

}  // namespace

TEST(StackTransform, AgreesWithItsDefinition) {
  for (const auto& [rows, cols, channels] : kShapes) {
    const StackTransform transform(rows, cols, channels);
    const Image<float> stack = random_stack(rows, cols, channels, 7);
    Image<Complex> spectrum = transform.make_spectrum();
    transform.forward_into(stack.view(), spectrum.view());
    for (int u = 0; u < rows; ++u)
      for (int v = 0; v < transform.spectrum_cols(); ++v)
        for (int k = 0; k < channels; ++k) {
          const auto right = slow_sum(stack, u, v, k);
          EXPECT_NEAR(spectrum(u, v, k).real(), right.real(), 1e-6 * rows * cols + 1e-6);
          EXPECT_NEAR(spectrum(u, v, k).imag(), right.imag(), 1e-6 * rows * cols + 1e-6);
        }
  }
}

TEST(StackTransform, ComesBackToWhereItStarted) {
  for (const auto& [rows, cols, channels] : kShapes) {
    const StackTransform transform(rows, cols, channels);
    const Image<float> stack = random_stack(rows, cols, channels, 8);
    Image<Complex> spectrum = transform.make_spectrum();
    Image<float> back = transform.make_stack();
    transform.forward_into(stack.view(), spectrum.view());
    transform.inverse_into(spectrum.view(), back.view());
    for (std::size_t i = 0; i < back.elements().size(); ++i)
      EXPECT_NEAR(back.elements()[i], stack.elements()[i], 1e-6);
  }
}

TEST(StackTransform, GivesTheSameBitsOnSeveralThreads) {
  const Image<float> stack = random_stack(48, 40, 4, 9);
  const StackTransform transform(48, 40, 4);
  Image<Complex> right = transform.make_spectrum();
  transform.forward_into(stack.view(), right.view());
  std::vector<int> equal(64);
  for_each_index(64, 4, [&](int i) {
    const StackTransform own(48, 40, 4);  // planning at the same time as others transform
    Image<Complex> spectrum = own.make_spectrum();
    own.forward_into(stack.view(), spectrum.view());
    equal[i] = std::ranges::equal(spectrum.elements(), right.elements()) ? 1 : 0;
  });
  EXPECT_EQ(std::ranges::count(equal, 1), 64);
}

TEST(StackTransform, RefusesImpossibleSizes) {
  EXPECT_THROW(StackTransform(0, 4), CallError);
  EXPECT_THROW(StackTransform(4, 4, 0), CallError);
}

TEST(FastSize, HasOnlySmallFactors) {
  EXPECT_EQ(fast_size(1), 1);
  for (int least = 2; least < 600; ++least) {
    const int size = fast_size(least);
    EXPECT_GE(size, least);
    EXPECT_EQ(size % 2, 0);
    int rest = size;
    for (const int factor : {2, 3, 5, 7})
      while (rest % factor == 0) rest /= factor;
    EXPECT_EQ(rest, 1) << size;
  }
  EXPECT_EQ(fast_size(63), 64);
}

}  // namespace mnemon
