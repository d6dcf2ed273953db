// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <vector>

#include <mnemon/score/order.hpp>
/// \file
/// What can be said of scores over many sequences, and what cannot.
namespace mnemon {

/// From where to where.
struct Interval {
  double low = 0;   ///< The lower end.
  double high = 0;  ///< The upper end.
  bool operator==(const Interval&) const = default;
};

/// How an interval is drawn. It is stated in docs/scores.md.
struct Bootstrap {
  int resamples = 2000;   ///< How many times the sequences are drawn anew.
  std::uint64_t key = 1;  ///< Of the random numbers.
};

/// The 95 % interval of the mean: percentiles of the means of resamples drawn with replacement. The same values in
/// the same order give the same interval. Nothing for fewer than two values.
/// Source: Efron 1979, bootstrap methods.
[[nodiscard]] std::optional<Interval> mean_interval(std::span<const double> values, Bootstrap bootstrap = {});

/// The same for any figure of a sample: `figure_of` gets the places that were drawn, as many as there are, and may
/// answer infinity. Nothing for a sample of fewer than two.
[[nodiscard]] std::optional<Interval> bootstrap_interval(
    std::size_t sample, const std::function<double(std::span<const std::size_t>)>& figure_of,
    Bootstrap bootstrap = {});

/// The two-sided signed-rank test of whether differences lie about 0.
struct SignedRank {
  int pairs = 0;        ///< Those whose difference is not 0.
  double rank_sum = 0;  ///< Of the positive differences.
  Figure p;             ///< Nothing without pairs.
};

/// Differences within 1e-9 of 0 are dropped, ties share their mean rank; exact up to 25 pairs, beyond that normal with
/// correction for ties. \param differences  All finite.
/// Source: Wilcoxon 1945, individual comparisons by ranking methods.
[[nodiscard]] SignedRank signed_rank(std::span<const double> differences);

/// Several p-values, each corrected for there being so many, in their order.
/// Source: Holm 1979, a simple sequentially rejective multiple test procedure.
[[nodiscard]] std::vector<double> holm_corrected(std::span<const double> p_values);

/// The ranks of values, from 1 for the largest; values within 1e-9 of each other share the mean of their ranks.
[[nodiscard]] std::vector<double> ranks_from_largest(std::span<const double> values);

/// Fewer sequences separate nothing: of five, all with the same sign is no rarer than 1 in 16.
inline constexpr int kFewestToSeparate = 6;

/// A smaller mean difference of success areas separates nothing, however sure it is.
inline constexpr double kLeastToSeparate = 0.01;

/// Whether a mean difference over so many sequences, with this interval, says which is better.
[[nodiscard]] inline bool is_separated(int sequences, double mean, const Interval& interval,
                                       double least = kLeastToSeparate) noexcept {
  return sequences >= kFewestToSeparate && (interval.low > 0 || interval.high < 0) &&
         (mean >= least || mean <= -least);
}

/// How two trackers differ over the sequences that both have a value for.
struct PairedDifference {
  int sequences = 0;                 ///< On which both are known.
  Figure mean;                       ///< Of first less second.
  std::optional<Interval> interval;  ///< 95 %, where the sequences are enough to bound it.
  SignedRank test;                   ///< Of their differences.

  /// Whether the two are separated. \param least  A mean difference that counts.
  [[nodiscard]] bool is_separated(double least = kLeastToSeparate) const noexcept {
    return mean && interval && mnemon::is_separated(sequences, *mean, *interval, least);
  }
};

/// The first less the second: each holds one value a sequence, in the same order; nothing where there is none. The
/// interval is that of simultaneous_differences for this one pair.
[[nodiscard]] PairedDifference paired_difference(std::span<const Figure> first,
                                                 std::span<const Figure> second);

}  // namespace mnemon
