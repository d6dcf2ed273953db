// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/spectra.hpp>

#include <algorithm>
#include <cmath>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/signal/peak.hpp>

namespace mnemon {
namespace {

Image<Complex> random_spectra(std::uint64_t key) {
  Image<Complex> spectra(8, 10, 4);
  Random random(key);
  for (Complex& v : spectra.elements())
    v = {static_cast<float>(random.uniform(-1, 1)), static_cast<float>(random.uniform(-1, 1))};
  return spectra;
}

// Of numbers up to 4, added up over 4 pairs.
constexpr double kFloatRounding = 1e-5;

}  // namespace

TEST(Spectra, CorrelateAsPairByPair) {
  const Image<Complex> a = random_spectra(1);
  const Image<Complex> b = random_spectra(2);
  Image<Complex> out(8, 10);
  correlate_into(a, b, out);
  for (int r = 0; r < 8; ++r)
    for (int c = 0; c < 10; ++c) {
      Complex sum = 0;
      for (int k = 0; k < 4; ++k) sum += std::conj(a(r, c, k)) * b(r, c, k);
      EXPECT_NEAR(std::abs(out(r, c) - sum), 0, kFloatRounding) << r << ' ' << c;
    }
}

TEST(Spectra, PowerIsTheMeanOfAFrequencyAndItsMirror) {
  const Image<Complex> a = random_spectra(3);
  Image<float> work(8, 10);
  Image<float> out(8, 10);
  power_into(a, work, out);
  const auto power = [&](int r, int c) {
    double sum = 0;
    for (int k = 0; k < 4; ++k) sum += std::norm(a(r, c, k));
    return sum;
  };
  for (int r = 0; r < 8; ++r)
    for (int c = 0; c < 10; ++c)
      EXPECT_NEAR(out(r, c), 0.5 * (power(r, c) + power((8 - r) % 8, (10 - c) % 10)), kFloatRounding);
}

TEST(Spectra, BlendTowardsTheGoal) {
  const Image<Complex> from = random_spectra(4);
  const Image<Complex> before = random_spectra(5);
  const Image<Complex> goal = goal_spectrum(8, 10, 1);
  Image<Complex> to = copy_of(before.view());
  blend_with_goal(goal, from, 0.25f, to);
  for (int r = 0; r < 8; ++r)
    for (int c = 0; c < 10; ++c)
      for (int k = 0; k < 4; ++k) {
        const Complex aim = std::conj(goal(r, c)) * from(r, c, k);
        EXPECT_NEAR(std::abs(to(r, c, k) - (before(r, c, k) + 0.25f * (aim - before(r, c, k)))), 0,
                    2 * kFloatRounding);
      }
}

TEST(Spectra, TheGoalComesBackAsABumpOnTheMiddleCell) {
  ResponseMaker maker(16, 20);
  const Image<Complex> goal = goal_spectrum(16, 20, 1.5);
  std::ranges::copy(goal.elements(), maker.spectrum().elements().begin());
  const ImageView<const float> response = maker.make();
  EXPECT_EQ(highest_cell(response), (Cell{8, 10}));
  for (int r = 0; r < 16; ++r)
    for (int c = 0; c < 20; ++c) {
      const double squared = (r - 8) * (r - 8) + (c - 10) * (c - 10);
      EXPECT_NEAR(response(r, c), std::exp(-squared / (2 * 1.5 * 1.5)), 1e-5) << r << ' ' << c;
    }
}

}  // namespace mnemon
