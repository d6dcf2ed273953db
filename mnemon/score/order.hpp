// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <optional>
#include <span>
#include <vector>
/// \file
/// Means and order statistics. Nothing stands for a figure with an empty denominator.
namespace mnemon {

/// A figure that is null where there is nothing to work it out from.
using Figure = std::optional<double>;

/// Their mean, summed in order; null for none.
[[nodiscard]] Figure mean(std::span<const double> values) noexcept;

/// The places of values, from 0, by rising value; of equal ones in any order. Linear in their number where they are
/// spread out, and never slower than sorting by comparison by more than a constant. Values are not NaN.
[[nodiscard]] std::vector<std::uint32_t> rising_order(std::span<const double> values);

/// The value below which a share from 0 to 1 lies, linearly between order statistics: the smallest for 0,
/// the largest for 1.
[[nodiscard]] Figure percentile(std::span<const double> values, double share);

/// Several percentiles of the same values, in the order of `shares`. Values are not NaN.
[[nodiscard]] std::vector<Figure> percentiles(std::span<const double> values, std::span<const double> shares);

/// The middle value, or the mean of the middle two.
[[nodiscard]] Figure median(std::span<const double> values);

/// part / whole; null where `whole` is 0.
[[nodiscard]] constexpr Figure ratio(double part, double whole) noexcept {
  return whole == 0 ? Figure() : Figure(part / whole);
}

/// The mean of those figures that are not null, and how many that were.
struct KnownMean {
  Figure mean;    ///< Null for none.
  int count = 0;  ///< How many are known.
};
/// Over the figures that are known.
[[nodiscard]] KnownMean mean_of_known(std::span<const Figure> figures);

/// Values this close count as equal, so that rounding does not decide a threshold.
inline constexpr double kThresholdSlack = 1e-9;

/// value > threshold, and not merely by rounding.
[[nodiscard]] constexpr bool exceeds(double value, double threshold) noexcept {
  return value > threshold + kThresholdSlack;
}

/// value >= threshold, or short of it merely by rounding.
[[nodiscard]] constexpr bool reaches(double value, double threshold) noexcept {
  return value >= threshold - kThresholdSlack;
}

}  // namespace mnemon
