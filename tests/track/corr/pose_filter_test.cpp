// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/pose_filter.hpp>

#include <cmath>
#include <vector>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

constexpr std::size_t kLength = 60;

// A bump that lies the further along the features, the larger the view is; all of it `by` views off.
void write_views(PoseFilter& filter, double by) {
  for (int view = 0; view < PoseFilter::kViews; ++view) {
    std::vector<float> features(kLength);
    const double middle = 0.5 * kLength + 2 * (view - PoseFilter::kMiddle - by);
    for (std::size_t i = 0; i < kLength; ++i)
      features[i] = static_cast<float>(std::exp(-0.5 * std::pow((static_cast<double>(i) - middle) / 3, 2)));
    filter.set_view(view, features);
  }
}

}  // namespace

// Outer views are tapered, which draws changes of some views in by up to a fifth.
TEST(PoseFilter, FindsWhichViewIsTheLearntOne) {
  PoseFilter filter(kLength);
  write_views(filter, 0);
  filter.learn(1);
  for (const double by : {0.0, 1.0, -2.0, 3.0, 0.5, -1.25}) {
    write_views(filter, by);
    EXPECT_NEAR(filter.find(), by, 0.1 + 0.2 * std::abs(by)) << by;
  }
}

TEST(PoseFilter, LearnsSlowly) {
  PoseFilter filter(kLength);
  write_views(filter, 0);
  filter.learn(1);
  write_views(filter, 1);
  filter.learn(0);
  EXPECT_NEAR(filter.find(), 1, 0.3) << "at rate 0 it knows what it knew";
  for (int i = 0; i < 200; ++i) filter.learn(0.1);
  EXPECT_NEAR(filter.find(), 0, 0.2) << "what is shown for long is no change";
}

TEST(PoseFilter, StaysWithinItsViewsWhereNothingIsToBeSeen) {
  PoseFilter filter(kLength);
  const std::vector<float> nothing(kLength);
  for (int view = 0; view < PoseFilter::kViews; ++view) filter.set_view(view, nothing);
  filter.learn(1);
  EXPECT_LE(std::abs(filter.find()), PoseFilter::kMiddle);
}

}  // namespace mnemon
