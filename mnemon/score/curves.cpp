// SPDX-License-Identifier: MIT
#include <mnemon/score/curves.hpp>

#include <algorithm>

namespace mnemon {
namespace {

// How many values pass each of the rising thresholds: one walk over both. `passes(value, step)` holds for the
// values from the smallest up to some value, and for no more of them at an earlier step.
template <class Passes>
std::vector<std::size_t> passing_counts(std::span<const double> values, int steps, Passes passes) {
  std::vector<double> sorted(values.begin(), values.end());
  std::ranges::sort(sorted);
  std::vector<std::size_t> counts(steps);
  std::size_t passed = 0;
  for (int step = 0; step < steps; ++step) {
    while (passed < sorted.size() && passes(sorted[passed], step)) ++passed;
    counts[step] = passed;
  }
  return counts;
}

template <class Passes>
std::vector<double> shares_within(std::span<const double> errors, int steps, Passes passes) {
  std::vector<double> curve;
  if (errors.empty()) return curve;
  for (const std::size_t count : passing_counts(errors, steps, passes))
    curve.push_back(static_cast<double>(count) / static_cast<double>(errors.size()));
  return curve;
}

}  // namespace

std::vector<double> success_curve(std::span<const double> overlaps) {
  std::vector<double> curve;
  if (overlaps.empty()) return curve;
  const auto fails = [](double v, int step) { return !exceeds(v, step / 100.0); };
  for (const std::size_t failing : passing_counts(overlaps, 101, fails))
    curve.push_back(static_cast<double>(overlaps.size() - failing) / static_cast<double>(overlaps.size()));
  return curve;
}

std::vector<double> centre_curve(std::span<const double> errors_px) {
  return shares_within(errors_px, 51, [](double v, int step) { return !exceeds(v, step); });
}

std::vector<double> relative_centre_curve(std::span<const double> errors) {
  return shares_within(errors, 101, [](double v, int step) { return !exceeds(v, step / 200.0); });
}

Figure area(std::span<const double> curve) noexcept { return mean(curve); }

Figure at_step(std::span<const double> curve, int step) noexcept {
  if (curve.empty()) return std::nullopt;
  return curve[static_cast<std::size_t>(step)];
}

}  // namespace mnemon
