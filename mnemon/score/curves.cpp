// SPDX-License-Identifier: MIT
#include <mnemon/score/curves.hpp>

#include <algorithm>
#include <array>

namespace mnemon {
namespace {

constexpr int kOverlapSteps = 101;
constexpr int kPixelSteps = 51;

// k / per, by division, as the thresholds are defined.
template <std::size_t N>
constexpr std::array<double, N> thresholds(double per) {
  std::array<double, N> values{};
  for (std::size_t k = 0; k < N; ++k) values[k] = static_cast<double>(k) / per;
  return values;
}
constexpr auto kHundredths = thresholds<kOverlapSteps>(100);
constexpr auto kTwoHundredths = thresholds<kOverlapSteps + 1>(200);
constexpr auto kPixels = thresholds<kPixelSteps + 1>(1);

// How many of a rising row of thresholds a value exceeds. Only the nearest one is in doubt: the value is half a step
// from the others, and the slack is far less.
// \param per  Thresholds in 1.
template <std::size_t N>
std::size_t exceeded(double value, double per, const std::array<double, N>& steps) noexcept {
  const auto nearest = static_cast<std::size_t>(std::min(value * per + 0.5, static_cast<double>(N - 1)));
  return nearest + (exceeds(value, steps[nearest]) ? 1 : 0);
}

// The share of values that do not exceed each threshold.
template <std::size_t N>
std::vector<double> shares_within(std::span<const double> values, double per,
                                  const std::array<double, N>& steps, std::size_t count) {
  std::array<std::size_t, N + 1> tally{};
  for (const double value : values) ++tally[exceeded(value, per, steps)];
  std::vector<double> shares(values.empty() ? 0 : count);
  std::size_t within = 0;
  for (std::size_t k = 0; k < shares.size(); ++k)
    shares[k] = static_cast<double>(within += tally[k]) / static_cast<double>(values.size());
  return shares;
}

}  // namespace

std::vector<double> overlap_curve(std::span<const double> overlaps) {
  std::array<std::size_t, kOverlapSteps + 1> tally{};
  for (const double overlap : overlaps) ++tally[exceeded(overlap, 100, kHundredths)];
  std::vector<double> curve(overlaps.empty() ? 0 : kOverlapSteps);
  std::size_t left = overlaps.size();  // those that exceed more
  for (std::size_t k = 0; k < curve.size(); ++k)
    curve[k] = static_cast<double>(left -= tally[k]) / static_cast<double>(overlaps.size());
  return curve;
}

std::vector<double> centre_curve(std::span<const double> errors_px) {
  return shares_within(errors_px, 1, kPixels, kPixelSteps);
}

std::vector<double> relative_centre_curve(std::span<const double> errors) {
  return shares_within(errors, 200, kTwoHundredths, kOverlapSteps);
}

Figure area(std::span<const double> curve) noexcept { return mean(curve); }

Figure at_step(std::span<const double> curve, int step) noexcept {
  if (curve.empty()) return std::nullopt;
  return curve[static_cast<std::size_t>(step)];
}

}  // namespace mnemon
