// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/pose_search.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <span>
#include <utility>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kSamples = 1024;       // of one patch, about
constexpr int kFewestCells = 2;      // along a side
constexpr double kTurnedSize = 1.2;  // of what turns are told by, in target sizes

int cells_along(double part) {
  return std::max(kFewestCells, static_cast<int>(std::lround(part / GradientHistogram::kCell)));
}

// A line of a smaller picture out of a larger one: between which samples each lies, and how far along.
void plan_line(int from, int to, double share, std::vector<PoseSearch::Spot>& spots) {
  for (int i = 0; i < to; ++i) {
    const double at =
        std::clamp(0.5 * from * (1 - share) + (i + 0.5) * from * share / to - 0.5, 0.0, from - 1.0);
    const int low = std::min(static_cast<int>(at), from - 2);
    spots.push_back({low, static_cast<float>(at - low)});
  }
}

// Interpolates a smaller picture out of a larger one, between its samples.
MNEMON_TABLE_CLONES void shrink_into(ImageView<const float> in, const PoseSearch::Spot* across,
                                     const PoseSearch::Spot* down, ImageView<float> out) noexcept {
  for (int r = 0; r < out.rows; ++r) {
    const float* upper = in.data + down[r].low * in.stride;
    const float* lower = upper + in.stride;
    float* to = out.data + r * out.stride;
    for (int c = 0; c < out.cols; ++c) {
      const int k = across[c].low;
      const float a = upper[k] + across[c].on * (upper[k + 1] - upper[k]);
      const float b = lower[k] + across[c].on * (lower[k + 1] - lower[k]);
      to[c] = a + down[r].on * (b - a);
    }
  }
}

// How much a cell of a patch counts for its turn: the corners turn out of the target.
float roundness(int r, int c, int rows, int cols) {
  const double x = 2 * (c + 0.5) / cols - 1;
  const double y = 2 * (r + 0.5) / rows - 1;
  return static_cast<float>(std::sqrt(std::max(0.0, 1 - x * x - y * y)));
}

}  // namespace

PoseSearch::PoseSearch(double target_w, double target_h, const Reach& reach, double max_w, double max_h)
    : target_w_(target_w), target_h_(target_h), reach_(reach), sampler_size_{max_w, max_h} {
  const double shape = std::clamp(target_w / target_h, 0.2, 5.0);
  const int cols = cells_along(std::sqrt(kSamples * shape));
  const int rows = cells_along(std::sqrt(kSamples / shape));
  gradients_ = GradientHistogram(rows, cols);
  patch_ = Image<float>(rows * GradientHistogram::kCell, cols * GradientHistogram::kCell);
  base_ = Image<float>(static_cast<int>(std::ceil(patch_.rows() * reach.growth * reach.growth)),
                       static_cast<int>(std::ceil(patch_.cols() * reach.growth * reach.growth)));
  cells_ = Image<float>(rows, cols, GradientHistogram::kChannels + 2);  // whole lanes
  sampler_ = TurnedWindow(base_.rows(), base_.cols(), max_w, max_h);
  sizes_ = PoseFilter(cells_.elements().size());
  for (int s = 0; s < PoseFilter::kViews; ++s) {
    const double share =
        std::pow(reach.growth, static_cast<double>(s - PoseFilter::kMiddle) / PoseFilter::kMiddle - 1);
    plan_line(base_.cols(), patch_.cols(), share, across_);
    plan_line(base_.rows(), patch_.rows(), share, down_);
  }
  if (reach.turn_deg > 0) turns_.emplace(cells_.elements().size());
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) round_.push_back(roundness(r, c, rows, cols));
}

// All views are read from one window of the largest size: it is sampled with care once, then only interpolated.
void PoseSearch::describe(ImageView<const Byte> rgb, const Pose& pose) noexcept {
  const double w = std::min(sampler_size_.x, target_w_ * pose.scale * reach_.growth);
  const double h = std::min(sampler_size_.y, target_h_ * pose.scale * reach_.growth);
  sampler_.sample_into(rgb, {box_around(pose.middle, w, h), pose.turn_deg}, base_.view());
  if (asked_.size) describe_sizes();
  if (turns_ && asked_.turn) describe_turns();
  described_ = pose;
}

void PoseSearch::describe_sizes() noexcept {
  for (int s = 0; s < PoseFilter::kViews; ++s) {
    shrink_into(base_.view(), across_.data() + static_cast<std::ptrdiff_t>(s) * patch_.cols(),
                down_.data() + static_cast<std::ptrdiff_t>(s) * patch_.rows(), patch_.view());
    gradients_.describe_into(patch_.view(), cells_.view());
    sizes_.set_view(s, std::as_const(cells_).elements());
  }
}

void PoseSearch::describe_turns() noexcept {
  // Samples of the base to one of a patch, and pixels to a sample of the base, along each side.
  const Point steps{kTurnedSize * base_.cols() / (reach_.growth * patch_.cols()),
                    kTurnedSize * base_.rows() / (reach_.growth * patch_.rows())};
  const Point px{target_w_ / base_.cols(), target_h_ / base_.rows()};
  for (int s = 0; s < PoseFilter::kViews; ++s) {
    const double radians =
        reach_.turn_deg * (s - PoseFilter::kMiddle) / PoseFilter::kMiddle * std::numbers::pi / 180;
    Affine map;
    map.a = std::cos(radians) * steps.x;
    map.b = -std::sin(radians) * steps.y * px.y / px.x;
    map.d = std::sin(radians) * steps.x * px.x / px.y;
    map.e = std::cos(radians) * steps.y;
    map.c = 0.5 * (base_.cols() - map.a * patch_.cols() - map.b * patch_.rows());
    map.f = 0.5 * (base_.rows() - map.d * patch_.cols() - map.e * patch_.rows());
    warp_into(std::as_const(base_).view(), map, patch_.view());
    gradients_.describe_into(patch_.view(), cells_.view());
    for (std::size_t i = 0; i < round_.size(); ++i)
      for (int k = 0; k < cells_.channels(); ++k) cells_.elements()[i * cells_.channels() + k] *= round_[i];
    turns_->set_view(s, std::as_const(cells_).elements());
  }
}

// A target that has not changed since `find` looks as it did then.
void PoseSearch::learn(ImageView<const Byte> rgb, const Pose& pose, double rate) noexcept {
  if (!asked_.size && !asked_.turn) return;
  if (pose != described_) describe(rgb, pose);
  described_.reset();  // the next frame is another
  if (asked_.size) sizes_.learn(rate);
  if (turns_ && asked_.turn) turns_->learn(rate);
}

PoseSearch::Change PoseSearch::find(ImageView<const Byte> rgb, const Pose& pose,
                                    const Asked& asked) noexcept {
  asked_ = {asked.size, asked.turn && turns_};
  Change change;
  if (!asked_.size && !asked_.turn) return change;
  describe(rgb, pose);
  if (asked_.size) change.growth = std::pow(reach_.growth, sizes_.find() / PoseFilter::kMiddle);
  if (asked_.turn) change.turn_deg = reach_.turn_deg * turns_->find() / PoseFilter::kMiddle;
  return change;
}

}  // namespace mnemon
