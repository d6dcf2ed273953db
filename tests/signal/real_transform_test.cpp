// SPDX-License-Identifier: MIT
#include <mnemon/signal/real_transform.hpp>

#include <algorithm>
#include <complex>
#include <numbers>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/base/workers.hpp>

namespace mnemon {
namespace {

Image<float> random_picture(int rows, int cols, std::uint64_t key) {
  Image<float> picture(rows, cols);
  Random random(key);
  for (float& v : picture.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return picture;
}

std::complex<double> slow_sum(const Image<float>& picture, int u, int v) {
  std::complex<double> sum;
  for (int r = 0; r < picture.rows(); ++r)
    for (int c = 0; c < picture.cols(); ++c) {
      const double turn =
          static_cast<double>(u) * r / picture.rows() + static_cast<double>(v) * c / picture.cols();
      sum += static_cast<double>(picture(r, c)) * std::polar(1.0, -2 * std::numbers::pi * turn);
    }
  return sum;
}

struct Shape {
  int rows;
  int cols;
};

constexpr Shape kShapes[] = {{1, 1}, {1, 8}, {5, 7}, {16, 16}, {9, 12}, {17, 15}, {64, 20}};

}  // namespace

TEST(RealTransform, AgreesWithItsDefinition) {
  for (const auto& [rows, cols] : kShapes) {
    const RealTransform transform(rows, cols);
    const Image<float> picture = random_picture(rows, cols, 7);
    Image<Complex> spectrum = transform.make_spectrum();
    transform.forward_into(picture.view(), spectrum.view());
    for (int u = 0; u < rows; ++u)
      for (int v = 0; v < transform.spectrum_cols(); ++v) {
        const auto right = slow_sum(picture, u, v);
        EXPECT_NEAR(spectrum(u, v).real(), right.real(), 1e-6 * rows * cols + 1e-6);
        EXPECT_NEAR(spectrum(u, v).imag(), right.imag(), 1e-6 * rows * cols + 1e-6);
      }
  }
}

TEST(RealTransform, ComesBackToWhereItStarted) {
  for (const auto& [rows, cols] : kShapes) {
    const RealTransform transform(rows, cols);
    const Image<float> picture = random_picture(rows, cols, 8);
    Image<Complex> spectrum = transform.make_spectrum();
    Image<float> back = transform.make_picture();
    transform.forward_into(picture.view(), spectrum.view());
    transform.inverse_into(spectrum.view(), back.view());
    for (std::size_t i = 0; i < back.elements().size(); ++i)
      EXPECT_NEAR(back.elements()[i], picture.elements()[i], 1e-6);
  }
}

TEST(RealTransform, GivesTheSameBitsOnSeveralThreads) {
  const Image<float> picture = random_picture(48, 40, 9);
  const RealTransform transform(48, 40);
  Image<Complex> right = transform.make_spectrum();
  transform.forward_into(picture.view(), right.view());
  std::vector<int> equal(64);
  for_each_index(64, 4, [&](int i) {
    const RealTransform own(48, 40);  // planning at the same time as others transform
    Image<Complex> spectrum = own.make_spectrum();
    own.forward_into(picture.view(), spectrum.view());
    equal[i] = std::ranges::equal(spectrum.elements(), right.elements()) ? 1 : 0;
  });
  EXPECT_EQ(std::ranges::count(equal, 1), 64);
}

TEST(RealTransform, RefusesImpossibleSizes) {
  EXPECT_THROW(RealTransform(0, 4), CallError);
  EXPECT_THROW(RealTransform(4, 4097), CallError);
}

}  // namespace mnemon
