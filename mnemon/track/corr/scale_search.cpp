// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/scale_search.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <span>
#include <utility>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>

namespace mnemon {
namespace {

constexpr int kSizes = ScaleSearch::kSizes;
constexpr int kMiddle = kSizes / 2;
constexpr int kSamples = 1024;         // of one patch, about
constexpr int kFewestCells = 2;        // along a side
constexpr double kGoalSigma = 1.0;     // sizes
constexpr double kRegulariser = 0.01;  // of the mean power
constexpr int kBetween = 8;            // places tried from one size to the next

// Cosines and sines of 2 pi k / kTurns: a size's step is kBetween of them.
constexpr int kTurns = kSizes * kBetween;
const std::array<std::complex<double>, kTurns>& turns() {
  static const auto made = [] {
    std::array<std::complex<double>, kTurns> table;
    for (int k = 0; k < kTurns; ++k) table[k] = std::polar(1.0, 2 * std::numbers::pi * k / kTurns);
    return table;
  }();
  return made;
}

int cells_along(double part) {
  return std::max(kFewestCells, static_cast<int>(std::lround(part / GradientHistogram::kCell)));
}

// The transform of the wanted response: a Gaussian about the middle size.
double goal_at(int frequency) {
  double sum = 0;
  for (int s = 0; s < kSizes; ++s) {
    const double from = s - kMiddle;
    const int turn = (frequency * (s - kMiddle + kSizes) * kBetween) % kTurns;
    sum += std::exp(-0.5 * from * from / (kGoalSigma * kGoalSigma)) * turns()[turn].real();
  }
  return sum;
}

// A line of a smaller picture out of a larger one: between which samples each lies, and how far along.
void plan_line(int from, int to, double share, std::vector<ScaleSearch::Spot>& spots) {
  for (int i = 0; i < to; ++i) {
    const double at =
        std::clamp(0.5 * from * (1 - share) + (i + 0.5) * from * share / to - 0.5, 0.0, from - 1.0);
    const int low = std::min(static_cast<int>(at), from - 2);
    spots.push_back({low, static_cast<float>(at - low)});
  }
}

// Interpolates a smaller picture out of a larger one, between its samples.
MNEMON_TABLE_CLONES void shrink_into(ImageView<const float> in, const ScaleSearch::Spot* across,
                                     const ScaleSearch::Spot* down, ImageView<float> out) noexcept {
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

}  // namespace

ScaleSearch::ScaleSearch(double target_w, double target_h, double reach, double max_w, double max_h)
    : target_w_(target_w),
      target_h_(target_h),
      step_(std::log(reach) / kMiddle),
      largest_(reach),
      sampler_size_{max_w, max_h} {
  const double shape = std::clamp(target_w / target_h, 0.2, 5.0);
  const int cols = cells_along(std::sqrt(kSamples * shape));
  const int rows = cells_along(std::sqrt(kSamples / shape));
  gradients_ = GradientHistogram(rows, cols);
  patch_ = Image<float>(rows * GradientHistogram::kCell, cols * GradientHistogram::kCell);
  base_ = Image<float>(static_cast<int>(std::ceil(patch_.rows() * reach * reach)),
                       static_cast<int>(std::ceil(patch_.cols() * reach * reach)));
  cells_ = Image<float>(rows, cols, GradientHistogram::kChannels + 1);
  const int length = static_cast<int>(cells_.elements().size());
  features_ = Image<float>(kSizes, (length + 15) / 16 * 16);
  model_ = Image<float>(kSizes, features_.cols());
  sampler_ = GreyWindow(base_.rows(), base_.cols(), max_w, max_h);
  for (int s = 0; s < kSizes; ++s) {
    const double share = std::exp(step_ * (s - kMiddle)) / reach;
    plan_line(base_.cols(), patch_.cols(), share, across_);
    plan_line(base_.rows(), patch_.rows(), share, down_);
    taper_[s] = static_cast<float>(0.5 - 0.5 * std::cos(2 * std::numbers::pi * (s + 0.5) / kSizes));
  }
  for (int f = 0; f <= kMiddle; ++f) goal_[f] = goal_at(f);
}

// All sizes are read from one window of the largest: it is sampled with care once, then only interpolated.
void ScaleSearch::describe(ImageView<const Byte> rgb, Point middle, double scale) noexcept {
  const double w = std::min(sampler_size_.x, target_w_ * scale * largest_);
  const double h = std::min(sampler_size_.y, target_h_ * scale * largest_);
  sampler_.sample_into(rgb, box_around(middle, w, h), base_.view());
  const std::span<const float> cells = std::as_const(cells_).elements();
  for (int s = 0; s < kSizes; ++s) {
    shrink_into(base_.view(), across_.data() + static_cast<std::ptrdiff_t>(s) * patch_.cols(),
                down_.data() + static_cast<std::ptrdiff_t>(s) * patch_.rows(), patch_.view());
    gradients_.describe_into(patch_.view(), cells_.view());
    float* row = features_.view().row(s);
    for (std::size_t i = 0; i < cells.size(); ++i) row[i] = taper_[s] * cells[i];
  }
}

// The sum over features of conj(A) B, where A and B are the transforms over the sizes of each feature.
ScaleSearch::Spectrum ScaleSearch::shared_spectrum(const Image<float>& a, const Image<float>& b) noexcept {
  // Products of sizes i and j count by their distance j - i alone.
  std::array<double, kSizes> by_distance{};
  const auto line = [](const Image<float>& of, int i) {
    return std::span(of.view().row(i), static_cast<std::size_t>(of.cols()));
  };
  for (int i = 0; i < kSizes; ++i)
    for (int j = 0; j < kSizes; ++j) by_distance[(j - i + kSizes) % kSizes] += dot(line(a, i), line(b, j));
  Spectrum spectrum{};
  for (int f = 0; f < kSizes; ++f)
    for (int d = 0; d < kSizes; ++d)
      spectrum[f] += by_distance[d] * std::conj(turns()[f * d * kBetween % kTurns]);
  return spectrum;
}

void ScaleSearch::learn(ImageView<const Byte> rgb, Point middle, double scale, double rate) noexcept {
  describe(rgb, middle, scale);
  const double share = learnt_ ? rate : 1;
  const Spectrum shared = shared_spectrum(features_, features_);
  for (int f = 0; f < kSizes; ++f) power_[f] += share * (shared[f].real() - power_[f]);
  blend_towards(std::as_const(features_).elements(), static_cast<float>(share), model_.elements());
  if (!learnt_) {
    for (const double power : power_) added_ += kRegulariser * power / kSizes;
    added_ = std::max(added_, 1e-9);
  }
  learnt_ = true;
}

double ScaleSearch::find(ImageView<const Byte> rgb, Point middle, double scale) noexcept {
  describe(rgb, middle, scale);
  Spectrum answer = shared_spectrum(model_, features_);
  for (int f = 0; f <= kMiddle; ++f) answer[f] *= goal_[f] / (power_[f] + added_);
  // The response at any growth, by the trigonometric polynomial through the sizes.
  int best = 0;
  double best_score = -1e300;
  for (int i = -kMiddle * kBetween; i <= kMiddle * kBetween; ++i) {
    double score = answer[0].real();
    for (int f = 1; f <= kMiddle; ++f) {
      const std::complex<double>& turn = turns()[(f * (i + kTurns)) % kTurns];
      score += 2 * (answer[f].real() * turn.real() - answer[f].imag() * turn.imag());
    }
    if (score > best_score) {
      best_score = score;
      best = i;
    }
  }
  return std::exp(step_ * best / kBetween);
}

}  // namespace mnemon
