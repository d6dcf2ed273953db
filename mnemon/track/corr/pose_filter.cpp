// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/pose_filter.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

#include <mnemon/image/arithmetic.hpp>

namespace mnemon {
namespace {

constexpr int kViews = PoseFilter::kViews;
constexpr int kMiddle = PoseFilter::kMiddle;
constexpr double kGoalSigma = 1.0;     // views
constexpr double kRegulariser = 0.01;  // of the mean power
constexpr int kBetween = 8;            // places tried from one view to the next

// Cosines and sines of 2 pi k / kTurns: from one view to the next it is kBetween of them.
constexpr int kTurns = kViews * kBetween;
const std::array<std::complex<double>, kTurns>& turns() {
  static const auto made = [] {
    std::array<std::complex<double>, kTurns> table;
    for (int k = 0; k < kTurns; ++k) table[k] = std::polar(1.0, 2 * std::numbers::pi * k / kTurns);
    return table;
  }();
  return made;
}

// The transform of the wanted response: a Gaussian about the middle view.
double goal_at(int frequency) {
  double sum = 0;
  for (int s = 0; s < kViews; ++s) {
    const double from = s - kMiddle;
    const int turn = (frequency * (s - kMiddle + kViews) * kBetween) % kTurns;
    sum += std::exp(-0.5 * from * from / (kGoalSigma * kGoalSigma)) * turns()[turn].real();
  }
  return sum;
}

}  // namespace

PoseFilter::PoseFilter(std::size_t length)
    : features_(kViews, static_cast<int>((length + 15) / 16 * 16)), model_(kViews, features_.cols()) {
  for (int s = 0; s < kViews; ++s)
    taper_[s] = static_cast<float>(0.5 - 0.5 * std::cos(2 * std::numbers::pi * (s + 0.5) / kViews));
  for (int f = 0; f <= kMiddle; ++f) goal_[f] = goal_at(f);
}

void PoseFilter::set_view(int view, std::span<const float> features) noexcept {
  float* row = features_.view().row(view);
  for (std::size_t i = 0; i < features.size(); ++i) row[i] = taper_[view] * features[i];
}

// The sum over features of conj(A) B, where A and B are the transforms over the views of each feature.
PoseFilter::Spectrum PoseFilter::shared_spectrum(const Image<float>& a, const Image<float>& b) noexcept {
  // Products of views i and j count by their distance j - i alone.
  std::array<double, kViews> by_distance{};
  const auto line = [](const Image<float>& of, int i) {
    return std::span(of.view().row(i), static_cast<std::size_t>(of.cols()));
  };
  const bool mirrored = &a == &b;  // then i and j may be swapped, and half of the distances do
  for (int d = 0; d < (mirrored ? kMiddle + 1 : kViews); ++d)
    for (int i = 0; i < kViews; ++i) by_distance[d] += dot(line(a, i), line(b, (i + d) % kViews));
  if (mirrored)
    for (int d = 1; d <= kMiddle; ++d) by_distance[kViews - d] = by_distance[d];
  Spectrum spectrum{};
  for (int f = 0; f < kViews; ++f)
    for (int d = 0; d < kViews; ++d)
      spectrum[f] += by_distance[d] * std::conj(turns()[f * d * kBetween % kTurns]);
  return spectrum;
}

void PoseFilter::learn(double rate) noexcept {
  const double share = learnt_ ? rate : 1;
  const Spectrum shared = shared_spectrum(features_, features_);
  for (int f = 0; f < kViews; ++f) power_[f] += share * (shared[f].real() - power_[f]);
  blend_towards(std::as_const(features_).elements(), static_cast<float>(share), model_.elements());
  if (!learnt_) {
    for (const double power : power_) added_ += kRegulariser * power / kViews;
    added_ = std::max(added_, 1e-9);
  }
  learnt_ = true;
}

double PoseFilter::find() noexcept {
  Spectrum answer = shared_spectrum(model_, features_);
  for (int f = 0; f <= kMiddle; ++f) answer[f] *= goal_[f] / (power_[f] + added_);
  // The response anywhere between the views, by the trigonometric polynomial through them.
  const auto height_at = [&](int place) {
    double height = answer[0].real();
    for (int f = 1; f <= kMiddle; ++f) {
      const std::complex<double>& turn = turns()[(f * (place + kTurns)) % kTurns];
      height += 2 * (answer[f].real() * turn.real() - answer[f].imag() * turn.imag());
    }
    return height;
  };
  int best = 0;
  double best_height = -1e300;
  for (int i = -kMiddle * kBetween; i <= kMiddle * kBetween; ++i)
    if (const double height = height_at(i); height > best_height) {
      best_height = height;
      best = i;
    }
  return static_cast<double>(best) / kBetween;
}

}  // namespace mnemon
