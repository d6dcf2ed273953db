// SPDX-License-Identifier: MIT
#include <mnemon/vision/gradient_histogram.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

namespace mnemon {
namespace {

constexpr int kCell = GradientHistogram::kCell;
constexpr int kChannels = GradientHistogram::kChannels;

Image<float> random_grey(int cell_rows, int cell_cols, std::uint64_t key) {
  Image<float> grey(kCell * cell_rows, kCell * cell_cols);
  Random random(key);
  for (float& v : grey.elements()) v = static_cast<float>(random.uniform(0, 255));
  return grey;
}

Image<float> described(const Image<float>& grey) {
  GradientHistogram histogram(grey.rows() / kCell, grey.cols() / kCell);
  Image<float> cells(grey.rows() / kCell, grey.cols() / kCell, kChannels + 1);
  histogram.describe_into(grey.view(), cells.view());
  return cells;
}

// The same by the book: every sample spread over the four cells around it, in double precision.
std::vector<double> slow_cells(const Image<float>& grey) {
  const int rows = grey.rows() / kCell;
  const int cols = grey.cols() / kCell;
  std::vector<std::array<double, 18>> bins(static_cast<std::size_t>(rows) * cols);
  const int last = grey.cols() - 1;
  for (int r = 0; r < grey.rows(); ++r)
    for (int c = 0; c <= last; ++c) {
      const int at = std::clamp(c, 1, last - 1);
      const double dx = double(grey(r, at + 1)) - grey(r, at - 1);
      const double dy = double(grey(std::min(grey.rows() - 1, r + 1), at)) - grey(std::max(0, r - 1), at);
      const double turn = std::atan2(dy, dx) * 9 / std::numbers::pi;
      const int bin = (static_cast<int>(std::lround(turn)) + 18) % 18;
      const double y = (r + 0.5) / kCell - 0.5;
      const double x = (c + 0.5) / kCell - 0.5;
      for (int i = 0; i < 2; ++i)
        for (int k = 0; k < 2; ++k) {
          const int cr = static_cast<int>(std::floor(y)) + i;
          const int cc = static_cast<int>(std::floor(x)) + k;
          if (cr < 0 || cc < 0 || cr >= rows || cc >= cols) continue;
          bins[cr * cols + cc][bin] += (1 - std::abs(y - cr)) * (1 - std::abs(x - cc)) * std::hypot(dx, dy);
        }
    }
  const auto cell = [&](int r, int c) {
    return bins[std::clamp(r, 0, rows - 1) * cols + std::clamp(c, 0, cols - 1)];
  };
  const auto energy = [&](int r, int c) {
    double sum = 0;
    for (int k = 0; k < 9; ++k) sum += std::pow(cell(r, c)[k] + cell(r, c)[k + 9], 2);
    return sum;
  };
  std::vector<double> out;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      std::array<double, kChannels> v{};
      int block = 0;
      for (const int dr : {-1, 0})
        for (const int dc : {-1, 0}) {
          double norm = 1e-3;
          for (int i = 0; i < 2; ++i)
            for (int k = 0; k < 2; ++k) norm += energy(r + dr + i, c + dc + k);
          norm = std::sqrt(norm);
          for (int k = 0; k < 18; ++k) {
            const double cut = std::min(0.2, cell(r, c)[k] / norm);
            v[k] += 0.5 * cut;
            v[18 + block] += 0.2357 * cut;
          }
          ++block;
        }
      out.insert(out.end(), v.begin(), v.end());
    }
  return out;
}

}  // namespace

TEST(GradientHistogram, AgreesWithTheSlowTwin) {
  for (const auto& [rows, cols] : {std::pair{1, 1}, {2, 5}, {6, 6}, {16, 9}}) {
    const Image<float> grey = random_grey(rows, cols, 7);
    const Image<float> cells = described(grey);
    const std::vector<double> slow = slow_cells(grey);
    std::size_t i = 0;
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c)
        for (int k = 0; k < kChannels; ++k)
          EXPECT_NEAR(cells(r, c, k), slow[i++], 1e-4) << r << ' ' << c << ' ' << k;
  }
}

TEST(GradientHistogram, IsNothingOnPlainGround) {
  Image<float> grey(32, 32);
  std::ranges::fill(grey.elements(), 90.0f);
  const Image<float> cells = described(grey);
  for (const float v : cells.elements()) EXPECT_EQ(v, 0);
}

TEST(GradientHistogram, PutsARampIntoOneDirection) {
  Image<float> grey(24, 24);
  for (int r = 0; r < 24; ++r)
    for (int c = 0; c < 24; ++c)
      grey(r, c) = static_cast<float>(5 * c);  // brighter to the right: direction 0
  const Image<float> cells = described(grey);
  for (int k = 0; k < 18; ++k) EXPECT_NEAR(cells(3, 3, k), k == 0 ? 0.4 : 0, 1e-6);
  for (int k = 18; k < kChannels; ++k) EXPECT_NEAR(cells(3, 3, k), 0.2357 * 0.2, 1e-6);
}

TEST(GradientHistogram, PutsARampOfAnySlopeIntoTheNearestOfItsDirections) {
  for (int degrees = -180; degrees <= 180; degrees += 4) {
    const double radians = degrees * std::numbers::pi / 180;
    Image<float> grey(24, 24);
    for (int r = 0; r < 24; ++r)
      for (int c = 0; c < 24; ++c)
        grey(r, c) = static_cast<float>(100 + 3 * (c * std::cos(radians) + r * std::sin(radians)));
    const Image<float> cells = described(grey);
    const int nearest = (static_cast<int>(std::lround(degrees / 20.0)) + 18) % 18;
    for (int k = 0; k < 18; ++k) EXPECT_NEAR(cells(3, 3, k), k == nearest ? 0.4 : 0, 1e-6) << degrees;
  }
}

TEST(GradientHistogram, IsTheSameInHalfTheLight) {
  const Image<float> grey = random_grey(5, 5, 8);
  Image<float> dim = copy_of(grey.view());
  for (float& v : dim.elements()) v *= 0.5f;
  const Image<float> a = described(grey);
  const Image<float> b = described(dim);
  for (std::size_t i = 0; i < a.elements().size(); ++i) EXPECT_NEAR(a.elements()[i], b.elements()[i], 1e-5);
}

TEST(GradientHistogram, TurnsItsDirectionsWithThePicture) {
  const Image<float> grey = random_grey(6, 6, 9);
  Image<float> upside(24, 24);
  for (int r = 0; r < 24; ++r)
    for (int c = 0; c < 24; ++c) upside(r, c) = grey(23 - r, 23 - c);
  const Image<float> a = described(grey);
  const Image<float> b = described(upside);
  for (int r = 1; r < 5; ++r)
    for (int c = 1; c < 5; ++c) {
      for (int k = 0; k < 18; ++k) EXPECT_NEAR(a(r, c, k), b(5 - r, 5 - c, (k + 9) % 18), 2e-5);
      // The four blocks of a cell change places.
      for (int k = 0; k < 4; ++k) EXPECT_NEAR(a(r, c, 18 + k), b(5 - r, 5 - c, 21 - k), 2e-5);
    }
}

}  // namespace mnemon
