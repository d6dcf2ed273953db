// SPDX-License-Identifier: MIT
// The filters of many channels: what all of them must do, and what each does by its definition.
#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <memory>
#include <numbers>
#include <numeric>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/signal/windows.hpp>
#include <mnemon/track/corr/kernel_filter.hpp>
#include <mnemon/track/corr/masked_filter.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>

namespace mnemon {
namespace {

constexpr int kStackRows = 16;
constexpr int kStackCols = 20;
constexpr int kChannels = 8;

Image<float> random_stack(std::uint64_t key) {
  Image<float> stack(kStackRows, kStackCols, kChannels);
  Random random(key);
  for (float& v : stack.elements()) v = static_cast<float>(random.uniform(-1, 1));
  return stack;
}

Image<float> rolled(const Image<float>& stack, int down, int right) {
  Image<float> out(stack.rows(), stack.cols(), stack.channels());
  for (int r = 0; r < stack.rows(); ++r)
    for (int c = 0; c < stack.cols(); ++c)
      for (int k = 0; k < stack.channels(); ++k)
        out((r + down) % stack.rows(), (c + right) % stack.cols(), k) = stack(r, c, k);
  return out;
}

std::unique_ptr<StackFilter> make(const std::string& name) {
  if (name == "ridge") return std::make_unique<RidgeFilter>(kStackRows, kStackCols, kChannels, 1.0, 1e-3);
  if (name == "gaussian")
    return std::make_unique<KernelFilter>(kStackRows, kStackCols, kChannels, 1.0, 1e-3, Kernel::gaussian,
                                          1.0);
  if (name == "linear")
    return std::make_unique<KernelFilter>(kStackRows, kStackCols, kChannels, 1.0, 1e-3, Kernel::linear, 1.0);
  return std::make_unique<MaskedFilter>(kStackRows, kStackCols, kChannels,
                                        MaskedFilter::Options{1.0, 0.003, 4, 0.02});
}

class EveryFilter : public ::testing::TestWithParam<std::string> {};

using Spectrum = std::vector<std::complex<double>>;

// The transform of one channel, by its definition.
Spectrum slow_spectrum(const Image<float>& stack, int channel) {
  Spectrum out;
  for (int u = 0; u < kStackRows; ++u)
    for (int v = 0; v < kStackCols; ++v) {
      std::complex<double> sum;
      for (int r = 0; r < kStackRows; ++r)
        for (int c = 0; c < kStackCols; ++c)
          sum += double(stack(r, c, channel)) *
                 std::polar(
                     1.0, -2 * std::numbers::pi * (double(u) * r / kStackRows + double(v) * c / kStackCols));
      out.push_back(sum);
    }
  return out;
}

std::vector<double> slow_inverse(const Spectrum& spectrum) {
  std::vector<double> out;
  for (int r = 0; r < kStackRows; ++r)
    for (int c = 0; c < kStackCols; ++c) {
      std::complex<double> sum;
      for (int u = 0; u < kStackRows; ++u)
        for (int v = 0; v < kStackCols; ++v)
          sum += spectrum[u * kStackCols + v] *
                 std::polar(1.0,
                            2 * std::numbers::pi * (double(u) * r / kStackRows + double(v) * c / kStackCols));
      out.push_back(sum.real() / (kStackRows * kStackCols));
    }
  return out;
}

}  // namespace

TEST_P(EveryFilter, AnswersWhatItLearntWithAPeakInTheMiddle) {
  const auto filter = make(GetParam());
  const Image<float> stack = random_stack(1);
  filter->learn(stack.view(), 1);
  const auto response = filter->respond(stack.view());
  EXPECT_EQ(highest_cell(response), (Cell{kStackRows / 2, kStackCols / 2}));
  EXPECT_GT(peak_to_sidelobe(response, {kStackRows / 2, kStackCols / 2}, 3), 8);
}

TEST_P(EveryFilter, PeakMovesWithTheStack) {
  const auto filter = make(GetParam());
  const Image<float> stack = random_stack(2);
  filter->learn(stack.view(), 1);
  for (const auto& [down, right] : {std::pair{0, 0}, {5, 3}, {14, 19}})
    EXPECT_EQ(highest_cell(filter->respond(rolled(stack, down, right).view())),
              (Cell{(kStackRows / 2 + down) % kStackRows, (kStackCols / 2 + right) % kStackCols}));
}

TEST_P(EveryFilter, GoesBackToWhatItKept) {
  const auto filter = make(GetParam());
  const Image<float> stack = random_stack(3);
  filter->learn(stack.view(), 1);
  filter->keep();
  const Image<float> before = copy_of(filter->respond(stack.view()));
  filter->learn(random_stack(4).view(), 0.5f);
  EXPECT_FALSE(std::ranges::equal(filter->respond(stack.view()).elements(), before.elements()));
  filter->go_back();
  EXPECT_TRUE(std::ranges::equal(filter->respond(stack.view()).elements(), before.elements()));
}

TEST_P(EveryFilter, AnswersAnEmptyStackWithNumbers) {
  const auto filter = make(GetParam());
  const Image<float> nothing(kStackRows, kStackCols, kChannels);
  filter->learn(nothing.view(), 1);
  for (const float v : filter->respond(nothing.view()).elements()) EXPECT_TRUE(std::isfinite(v));
}

TEST_P(EveryFilter, HasAPictureOfTheStacksSize) {
  const auto filter = make(GetParam());
  filter->learn(random_stack(5).view(), 1);
  const Image<float> picture = filter->picture();
  EXPECT_EQ(picture.rows(), kStackRows);
  EXPECT_EQ(picture.cols(), kStackCols);
  EXPECT_GT(*std::ranges::max_element(picture.elements()), 0);
}

INSTANTIATE_TEST_SUITE_P(Filters, EveryFilter, ::testing::Values("ridge", "gaussian", "linear", "masked"),
                         [](const auto& each) { return each.param; });

TEST(RidgeFilter, AgreesWithItsDefinition) {
  RidgeFilter filter(kStackRows, kStackCols, kChannels, 1.5, 0.01);
  const Image<float> learnt = random_stack(6);
  const Image<float> seen = random_stack(7);
  filter.learn(learnt.view(), 1);
  const auto response = filter.respond(seen.view());
  const Image<float> goal =
      gaussian_goal(kStackRows, kStackCols, {kStackCols / 2 + 0.5, kStackRows / 2 + 0.5}, 1.5);
  const Spectrum g = slow_spectrum(goal, 0);
  Spectrum shared(g.size());
  std::vector<double> power(g.size());
  for (int k = 0; k < kChannels; ++k) {
    const Spectrum x = slow_spectrum(learnt, k);
    const Spectrum z = slow_spectrum(seen, k);
    for (std::size_t i = 0; i < g.size(); ++i) {
      shared[i] += std::conj(x[i]) * z[i];
      power[i] += std::norm(x[i]);
    }
  }
  const double mean = std::accumulate(power.begin(), power.end(), 0.0) / static_cast<double>(power.size());
  for (std::size_t i = 0; i < g.size(); ++i) shared[i] *= g[i] / (power[i] + 0.01 * mean);
  const std::vector<double> right = slow_inverse(shared);
  for (std::size_t i = 0; i < right.size(); ++i) EXPECT_NEAR(response.elements()[i], right[i], 1e-5);
}

TEST(KernelFilter, LinearOneIsTheRidgeRegressionOnShifts) {
  // With one learnt stack both solve the same regression; they differ in nothing but the unit of the regulariser.
  KernelFilter kernel(kStackRows, kStackCols, kChannels, 1.5, 0.05, Kernel::linear, 1);
  RidgeFilter ridge(kStackRows, kStackCols, kChannels, 1.5, 0.05);
  const Image<float> learnt = random_stack(8);
  kernel.learn(learnt.view(), 1);
  ridge.learn(learnt.view(), 1);
  const Image<float> seen = random_stack(9);
  const Image<float> a = copy_of(kernel.respond(seen.view()));
  const auto b = ridge.respond(seen.view());
  for (std::size_t i = 0; i < a.elements().size(); ++i) EXPECT_NEAR(a.elements()[i], b.elements()[i], 1e-5);
}

TEST(KernelFilter, GaussianOneAgreesWithItsDefinition) {
  KernelFilter filter(kStackRows, kStackCols, kChannels, 1.5, 0.01, Kernel::gaussian, 0.8);
  const Image<float> learnt = random_stack(10);
  const Image<float> seen = random_stack(11);
  filter.learn(learnt.view(), 1);
  const auto response = filter.respond(seen.view());
  double norm = 0;
  for (const float v : learnt.elements()) norm += double(v) * v;
  const auto kernel_of = [&](const Image<float>& x, const Image<float>& z) {
    Image<float> alike(kStackRows, kStackCols);
    for (int dr = 0; dr < kStackRows; ++dr)
      for (int dc = 0; dc < kStackCols; ++dc) {
        double squared = 0;
        for (int r = 0; r < kStackRows; ++r)
          for (int c = 0; c < kStackCols; ++c)
            for (int k = 0; k < kChannels; ++k)
              squared += std::pow(double(x(r, c, k)) - z((r + dr) % kStackRows, (c + dc) % kStackCols, k), 2);
        alike(dr, dc) = static_cast<float>(std::exp(-squared / (0.64 * norm)));
      }
    return slow_spectrum(alike, 0);
  };
  const Image<float> goal =
      gaussian_goal(kStackRows, kStackCols, {kStackCols / 2 + 0.5, kStackRows / 2 + 0.5}, 1.5);
  Spectrum answer = slow_spectrum(goal, 0);
  const Spectrum itself = kernel_of(learnt, learnt);
  const Spectrum other = kernel_of(learnt, seen);
  for (std::size_t i = 0; i < answer.size(); ++i) answer[i] *= other[i] / (itself[i] + 0.01);
  const std::vector<double> right = slow_inverse(answer);
  for (std::size_t i = 0; i < right.size(); ++i) EXPECT_NEAR(response.elements()[i], right[i], 2e-4);
}

TEST(MaskedFilter, IsNothingOutsideItsMask) {
  MaskedFilter filter(kStackRows, kStackCols, kChannels, {1.0, 0.003, 4, 0.02});
  std::ranges::fill(filter.mask().elements(), 0.0f);
  for (int r = 5; r < 11; ++r)
    for (int c = 6; c < 14; ++c) filter.mask()(r, c) = 1;
  filter.learn(random_stack(12).view(), 1);
  const Image<float> picture = filter.picture();
  const float highest = *std::ranges::max_element(picture.elements());
  for (int r = 0; r < kStackRows; ++r)
    for (int c = 0; c < kStackCols; ++c) {
      if (r >= 5 && r < 11 && c >= 6 && c < 14) continue;
      EXPECT_LT(picture(r, c), 1e-4f * highest) << r << ' ' << c;
    }
}

TEST(MaskedFilter, IgnoresWhatChangesOutsideItsMask) {
  MaskedFilter filter(kStackRows, kStackCols, kChannels, {1.0, 0.003, 4, 0.02});
  std::ranges::fill(filter.mask().elements(), 0.0f);
  for (int r = 4; r < 12; ++r)
    for (int c = 5; c < 15; ++c) filter.mask()(r, c) = 1;
  const Image<float> stack = random_stack(13);
  filter.learn(stack.view(), 1);
  const float before = filter.respond(stack.view())(kStackRows / 2, kStackCols / 2);
  Image<float> changed = random_stack(14);
  for (int r = 4; r < 12; ++r)
    for (int c = 5; c < 15; ++c)
      for (int k = 0; k < kChannels; ++k) changed(r, c, k) = stack(r, c, k);
  EXPECT_NEAR(filter.respond(changed.view())(kStackRows / 2, kStackCols / 2), before, 1e-4f * before);
}

TEST(MaskedFilter, WithAWholeMaskSolvesEachChannelsRegression) {
  // The constraint then asks for nothing, and the weights are shares of the channels' own peaks.
  MaskedFilter filter(kStackRows, kStackCols, kChannels, {1.0, 0.01, 2, 0.02});
  const Image<float> stack = random_stack(15);
  filter.learn(stack.view(), 1);
  const auto response = filter.respond(stack.view());
  const auto weights = filter.channel_weights();
  EXPECT_NEAR(std::accumulate(weights.begin(), weights.end(), 0.0f), 1, 1e-5);
  // Every channel answers its own stack with nearly the goal, so their weighted mean does, too.
  const Image<float> goal =
      gaussian_goal(kStackRows, kStackCols, {kStackCols / 2 + 0.5, kStackRows / 2 + 0.5}, 1.0);
  for (std::size_t i = 0; i < goal.elements().size(); ++i)
    EXPECT_NEAR(response.elements()[i], goal.elements()[i], 0.12);
}

TEST(MaskedFilter, TrustsTheChannelThatTells) {
  // One channel is the same in every frame, the others are new noise each time.
  MaskedFilter filter(kStackRows, kStackCols, kChannels, {1.0, 0.003, 4, 0.2});
  const Image<float> first = random_stack(16);
  for (int i = 0; i < 30; ++i) {
    Image<float> stack = random_stack(100 + i);
    for (int r = 0; r < kStackRows; ++r)
      for (int c = 0; c < kStackCols; ++c) stack(r, c, 3) = first(r, c, 3);
    if (i > 0) (void)filter.respond(stack.view());
    filter.learn(stack.view(), 0.1f);
  }
  const auto weights = filter.channel_weights();
  EXPECT_EQ(std::ranges::max_element(weights) - weights.begin(), 3);
}

}  // namespace mnemon
