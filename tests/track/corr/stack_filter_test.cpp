// SPDX-License-Identifier: MIT
// What all filters of many channels must do.
#include <mnemon/track/corr/stack_filter.hpp>

#include <algorithm>
#include <memory>
#include <string>

#include <gtest/gtest.h>

#include <mnemon/signal/peak.hpp>
#include <mnemon/track/corr/kernel_filter.hpp>
#include <mnemon/track/corr/masked_filter.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>

#include "track/corr/random_stacks.hpp"

namespace mnemon {
namespace {

std::unique_ptr<StackFilter> make(const std::string& name) {
  if (name == "ridge")
    return std::make_unique<RidgeFilter>(test::kStackRows, test::kStackCols, test::kStackChannels, 1.0, 1e-3);
  if (name == "gaussian")
    return std::make_unique<KernelFilter>(test::kStackRows, test::kStackCols, test::kStackChannels, 1.0, 1e-3,
                                          Kernel::gaussian, 1.0);
  if (name == "linear")
    return std::make_unique<KernelFilter>(test::kStackRows, test::kStackCols, test::kStackChannels, 1.0, 1e-3,
                                          Kernel::linear, 1.0);
  return std::make_unique<MaskedFilter>(test::kStackRows, test::kStackCols, test::kStackChannels,
                                        MaskedFilter::Options{1.0, 0.003, 4, 0.02});
}

class EveryFilter : public ::testing::TestWithParam<std::string> {};

}  // namespace

TEST_P(EveryFilter, AnswersWhatItLearntWithAPeakInTheMiddle) {
  const auto filter = make(GetParam());
  const Image<float> stack = test::random_stack(1);
  filter->learn(stack.view(), 1);
  const auto response = filter->respond(stack.view());
  EXPECT_EQ(highest_cell(response), (Cell{test::kStackRows / 2, test::kStackCols / 2}));
  EXPECT_GT(peak_to_sidelobe(response, {test::kStackRows / 2, test::kStackCols / 2}, 3), 8);
}

TEST_P(EveryFilter, PeakMovesWithTheStack) {
  const auto filter = make(GetParam());
  const Image<float> stack = test::random_stack(2);
  filter->learn(stack.view(), 1);
  for (const auto& [down, right] : {std::pair{0, 0}, {5, 3}, {14, 19}})
    EXPECT_EQ(highest_cell(filter->respond(test::rolled(stack, down, right).view())),
              (Cell{(test::kStackRows / 2 + down) % test::kStackRows,
                    (test::kStackCols / 2 + right) % test::kStackCols}));
}

TEST_P(EveryFilter, GoesBackToWhatItKept) {
  const auto filter = make(GetParam());
  const Image<float> stack = test::random_stack(3);
  filter->learn(stack.view(), 1);
  filter->keep();
  const Image<float> before = copy_of(filter->respond(stack.view()));
  filter->learn(test::random_stack(4).view(), 0.5f);
  EXPECT_FALSE(std::ranges::equal(filter->respond(stack.view()).elements(), before.elements()));
  filter->go_back();
  EXPECT_TRUE(std::ranges::equal(filter->respond(stack.view()).elements(), before.elements()));
}

TEST_P(EveryFilter, AnswersAnEmptyStackWithNumbers) {
  const auto filter = make(GetParam());
  const Image<float> nothing(test::kStackRows, test::kStackCols, test::kStackChannels);
  filter->learn(nothing.view(), 1);
  for (const float v : filter->respond(nothing.view()).elements()) EXPECT_TRUE(std::isfinite(v));
}

TEST_P(EveryFilter, HasAPictureOfTheStacksSize) {
  const auto filter = make(GetParam());
  filter->learn(test::random_stack(5).view(), 1);
  const Image<float> picture = filter->picture();
  EXPECT_EQ(picture.rows(), test::kStackRows);
  EXPECT_EQ(picture.cols(), test::kStackCols);
  EXPECT_GT(*std::ranges::max_element(picture.elements()), 0);
}

INSTANTIATE_TEST_SUITE_P(Filters, EveryFilter, ::testing::Values("ridge", "gaussian", "linear", "masked"),
                         [](const auto& each) { return each.param; });

}  // namespace mnemon
