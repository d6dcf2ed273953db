// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/kernel_filter.hpp>

#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/signal/windows.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>

#include "track/corr/random_stacks.hpp"

namespace mnemon {

TEST(KernelFilter, LinearOneIsTheRidgeRegressionOnShifts) {
  // With one learnt stack both solve the same regression; they differ in nothing but the unit of the regulariser.
  KernelFilter kernel(test::kStackRows, test::kStackCols, test::kStackChannels, 1.5, 0.05, Kernel::linear, 1);
  RidgeFilter ridge(test::kStackRows, test::kStackCols, test::kStackChannels, 1.5, 0.05);
  const Image<float> learnt = test::random_stack(8);
  kernel.learn(learnt.view(), 1);
  ridge.learn(learnt.view(), 1);
  const Image<float> seen = test::random_stack(9);
  const Image<float> a = copy_of(kernel.respond(seen.view()));
  const auto b = ridge.respond(seen.view());
  for (std::size_t i = 0; i < a.elements().size(); ++i) EXPECT_NEAR(a.elements()[i], b.elements()[i], 1e-5);
}

TEST(KernelFilter, GaussianOneAgreesWithItsDefinition) {
  KernelFilter filter(test::kStackRows, test::kStackCols, test::kStackChannels, 1.5, 0.01, Kernel::gaussian,
                      0.8);
  const Image<float> learnt = test::random_stack(10);
  const Image<float> seen = test::random_stack(11);
  filter.learn(learnt.view(), 1);
  const auto response = filter.respond(seen.view());
  double norm = 0;
  for (const float v : learnt.elements()) norm += double(v) * v;
  const auto kernel_of = [&](const Image<float>& x, const Image<float>& z) {
    Image<float> alike(test::kStackRows, test::kStackCols);
    for (int dr = 0; dr < test::kStackRows; ++dr)
      for (int dc = 0; dc < test::kStackCols; ++dc) {
        double squared = 0;
        for (int r = 0; r < test::kStackRows; ++r)
          for (int c = 0; c < test::kStackCols; ++c)
            for (int k = 0; k < test::kStackChannels; ++k)
              squared += std::pow(
                  double(x(r, c, k)) - z((r + dr) % test::kStackRows, (c + dc) % test::kStackCols, k), 2);
        alike(dr, dc) = static_cast<float>(std::exp(-squared / (0.64 * norm)));
      }
    return test::slow_spectrum(alike, 0);
  };
  const Image<float> goal = gaussian_goal(test::kStackRows, test::kStackCols,
                                          {test::kStackCols / 2 + 0.5, test::kStackRows / 2 + 0.5}, 1.5);
  test::Spectrum answer = test::slow_spectrum(goal, 0);
  const test::Spectrum itself = kernel_of(learnt, learnt);
  const test::Spectrum other = kernel_of(learnt, seen);
  for (std::size_t i = 0; i < answer.size(); ++i) answer[i] *= other[i] / (itself[i] + 0.01);
  const std::vector<double> right = test::slow_inverse(answer);
  for (std::size_t i = 0; i < right.size(); ++i) EXPECT_NEAR(response.elements()[i], right[i], 2e-4);
}

}  // namespace mnemon
