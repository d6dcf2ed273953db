// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/masked_filter.hpp>

#include <algorithm>
#include <numeric>

#include <gtest/gtest.h>

#include <mnemon/signal/windows.hpp>

#include "track/corr/random_stacks.hpp"

namespace mnemon {

TEST(MaskedFilter, IsNothingOutsideItsMask) {
  MaskedFilter filter(test::kStackRows, test::kStackCols, test::kStackChannels, {1.0, 0.003, 4, 0.02});
  std::ranges::fill(filter.mask().elements(), 0.0f);
  for (int r = 5; r < 11; ++r)
    for (int c = 6; c < 14; ++c) filter.mask()(r, c) = 1;
  filter.learn(test::random_stack(12).view(), 1);
  const Image<float> picture = filter.picture();
  const float highest = *std::ranges::max_element(picture.elements());
  for (int r = 0; r < test::kStackRows; ++r)
    for (int c = 0; c < test::kStackCols; ++c) {
      if (r >= 5 && r < 11 && c >= 6 && c < 14) continue;
      EXPECT_LT(picture(r, c), 1e-4f * highest) << r << ' ' << c;
    }
}

TEST(MaskedFilter, IgnoresWhatChangesOutsideItsMask) {
  MaskedFilter filter(test::kStackRows, test::kStackCols, test::kStackChannels, {1.0, 0.003, 4, 0.02});
  std::ranges::fill(filter.mask().elements(), 0.0f);
  for (int r = 4; r < 12; ++r)
    for (int c = 5; c < 15; ++c) filter.mask()(r, c) = 1;
  const Image<float> stack = test::random_stack(13);
  filter.learn(stack.view(), 1);
  const float before = filter.respond(stack.view())(test::kStackRows / 2, test::kStackCols / 2);
  Image<float> changed = test::random_stack(14);
  for (int r = 4; r < 12; ++r)
    for (int c = 5; c < 15; ++c)
      for (int k = 0; k < test::kStackChannels; ++k) changed(r, c, k) = stack(r, c, k);
  EXPECT_NEAR(filter.respond(changed.view())(test::kStackRows / 2, test::kStackCols / 2), before,
              1e-4f * before);
}

TEST(MaskedFilter, WithAWholeMaskSolvesEachChannelsRegression) {
  // The constraint then asks for nothing, and the weights are shares of the channels' own peaks.
  MaskedFilter filter(test::kStackRows, test::kStackCols, test::kStackChannels, {1.0, 0.01, 2, 0.02});
  const Image<float> stack = test::random_stack(15);
  filter.learn(stack.view(), 1);
  const auto response = filter.respond(stack.view());
  const auto weights = filter.channel_weights();
  EXPECT_NEAR(std::accumulate(weights.begin(), weights.end(), 0.0f), 1, 1e-5);
  // Every channel answers its own stack with nearly the goal, so their weighted mean does, too.
  const Image<float> goal = gaussian_goal(test::kStackRows, test::kStackCols,
                                          {test::kStackCols / 2 + 0.5, test::kStackRows / 2 + 0.5}, 1.0);
  for (std::size_t i = 0; i < goal.elements().size(); ++i)
    EXPECT_NEAR(response.elements()[i], goal.elements()[i], 0.12);
}

TEST(MaskedFilter, TrustsTheChannelThatTells) {
  // One channel is the same in every frame, the others are new noise each time.
  MaskedFilter filter(test::kStackRows, test::kStackCols, test::kStackChannels, {1.0, 0.003, 4, 0.2});
  const Image<float> first = test::random_stack(16);
  for (int i = 0; i < 30; ++i) {
    Image<float> stack = test::random_stack(100 + i);
    for (int r = 0; r < test::kStackRows; ++r)
      for (int c = 0; c < test::kStackCols; ++c) stack(r, c, 3) = first(r, c, 3);
    if (i > 0) (void)filter.respond(stack.view());
    filter.learn(stack.view(), 0.1f);
  }
  const auto weights = filter.channel_weights();
  EXPECT_EQ(std::ranges::max_element(weights) - weights.begin(), 3);
}

}  // namespace mnemon
