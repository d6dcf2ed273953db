// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/linear_filter.hpp>

#include <algorithm>
#include <cstdint>
#include <utility>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/signal/windows.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

Image<float> random_patch(int rows, int cols, std::uint64_t key) {
  Image<float> patch(rows, cols);
  Random random(key);
  for (float& v : patch.elements()) v = static_cast<float>(random.uniform(-1, 1)) / 16;
  return patch;
}

Image<float> rolled(const Image<float>& patch, int down, int right) {
  Image<float> out(patch.rows(), patch.cols());
  for (int r = 0; r < patch.rows(); ++r)
    for (int c = 0; c < patch.cols(); ++c)
      out((r + down) % patch.rows(), (c + right) % patch.cols()) = patch(r, c);
  return out;
}

}  // namespace

TEST(LinearFilter, AnswersWhatItLearntWithItsGoal) {
  LinearFilter filter(24, 32, 2, 1e-6);
  const Image<float> patch = random_patch(24, 32, 1);
  filter.learn(patch.view(), 1);
  const auto response = filter.respond(patch.view());
  const Image<float> goal = gaussian_goal(24, 32, {16.5, 12.5}, 2);
  for (int r = 0; r < 24; ++r)
    for (int c = 0; c < 32; ++c) EXPECT_NEAR(response(r, c), goal(r, c), 2e-3);
}

TEST(LinearFilter, PeakMovesWithThePatch) {
  LinearFilter filter(32, 32, 2, 0.01);
  const Image<float> patch = random_patch(32, 32, 2);
  filter.learn(patch.view(), 1);
  for (const auto& [down, right] : {std::pair{0, 0}, {5, 3}, {30, 29}}) {
    const Image<float> moved = rolled(patch, down, right);
    EXPECT_EQ(highest_cell(filter.respond(moved.view())), (Cell{(16 + down) % 32, (16 + right) % 32}));
  }
}

TEST(LinearFilter, AtRateZeroLearnsNothing) {
  LinearFilter filter(16, 16, 2, 0.01);
  const Image<float> patch = random_patch(16, 16, 3);
  filter.learn(patch.view(), 1);
  const Image<float> before = copy_of(filter.respond(patch.view()));
  filter.learn(random_patch(16, 16, 4).view(), 0);
  EXPECT_TRUE(std::ranges::equal(filter.respond(patch.view()).elements(), before.elements()));
}

TEST(LinearFilter, PictureIsWhatThePatchIsCorrelatedWith) {
  LinearFilter filter(12, 14, 1.5, 0.05);
  filter.learn(random_patch(12, 14, 5).view(), 1);
  const Image<float> patch = random_patch(12, 14, 6);
  const auto response = filter.respond(patch.view());
  const Image<float> kernel = filter.picture();
  for (int r = 0; r < 12; ++r)
    for (int c = 0; c < 14; ++c) {
      double sum = 0;
      for (int i = 0; i < 12; ++i)
        for (int j = 0; j < 14; ++j)
          sum += static_cast<double>(kernel(i, j)) * patch((r + i - 6 + 12) % 12, (c + j - 7 + 14) % 14);
      EXPECT_NEAR(response(r, c), sum, 1e-5);
    }
}

}  // namespace mnemon
