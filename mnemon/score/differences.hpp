// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <span>
#include <vector>

#include <mnemon/score/statistics.hpp>

namespace mnemon {

/// How the signs of a wild bootstrap are drawn. It is stated in docs/scores.md.
struct SignDraws {
  int draws = 10'000;     ///< How many times signs are drawn.
  std::uint64_t key = 1;  ///< Of the random numbers.
};

/// Two of several trackers on the same sequences.
struct Difference {
  int first = 0;      ///< Their places among the trackers.
  int second = 0;     ///< The other one's, which comes later.
  double mean = 0;    ///< Of first less second.
  Interval interval;  ///< Infinite where there are too few sequences to say anything.
};

/// Every pair of several trackers, `first` before `second`, with 95 % intervals that hold all at once: the mean
/// difference plus and minus q of its own standard errors. q is the 95th percentile of the largest |t| over all pairs
/// when each sequence's differences, less their means, keep or change their sign together, at random sequence by
/// sequence.
/// \param values  A row a tracker, a place a sequence, all rows of one length; every value finite. No pairs for fewer than two
///                sequences.
/// The same values in the same order give the same intervals.
/// Source: Wu 1986, jackknife, bootstrap and other resampling methods in regression analysis, section 7, for changing
/// signs; Westfall and Young 1993, resampling-based multiple testing, for the largest statistic.
[[nodiscard]] std::vector<Difference> simultaneous_differences(std::span<const std::vector<double>> values,
                                                               SignDraws draws = {});

}  // namespace mnemon
