// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/ridge_filter.hpp>

#include <cmath>
#include <complex>
#include <numeric>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/signal/windows.hpp>

#include "track/corr/random_stacks.hpp"

namespace mnemon {

TEST(RidgeFilter, AgreesWithItsDefinition) {
  RidgeFilter filter(test::kStackRows, test::kStackCols, test::kStackChannels, 1.5, 0.01);
  const Image<float> learnt = test::random_stack(6);
  const Image<float> seen = test::random_stack(7);
  filter.learn(learnt.view(), 1);
  const auto response = filter.respond(seen.view());
  const Image<float> goal = gaussian_goal(test::kStackRows, test::kStackCols,
                                          {test::kStackCols / 2 + 0.5, test::kStackRows / 2 + 0.5}, 1.5);
  const test::Spectrum g = test::slow_spectrum(goal, 0);
  test::Spectrum shared(g.size());
  std::vector<double> power(g.size());
  for (int k = 0; k < test::kStackChannels; ++k) {
    const test::Spectrum x = test::slow_spectrum(learnt, k);
    const test::Spectrum z = test::slow_spectrum(seen, k);
    for (std::size_t i = 0; i < g.size(); ++i) {
      shared[i] += std::conj(x[i]) * z[i];
      power[i] += std::norm(x[i]);
    }
  }
  const double mean = std::accumulate(power.begin(), power.end(), 0.0) / static_cast<double>(power.size());
  for (std::size_t i = 0; i < g.size(); ++i) shared[i] *= g[i] / (power[i] + 0.01 * mean);
  const std::vector<double> right = test::slow_inverse(shared);
  for (std::size_t i = 0; i < right.size(); ++i) EXPECT_NEAR(response.elements()[i], right[i], 1e-5);
}

}  // namespace mnemon
