// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/report/results.hpp>
#include <mnemon/report/table.hpp>
#include <mnemon/score/statistics.hpp>

namespace mnemon {

/// What a study says of one tracker over all sequences, on success area.
struct Standing {
  int tracker = 0;                   ///< Place in Study::trackers.
  int sequences = 0;                 ///< With a score.
  Figure mean;                       ///< Every sequence with the same weight.
  std::optional<Interval> interval;  ///< 95 %, over sequences.
  std::string group;                 ///< Letters that it shares with those that it is not separated from.
  Figure by_frames;                  ///< The mean weighted by present frames.
  Figure mean_rank;                  ///< From 1, over the sequences that every tracker has a score for.
};

/// Two trackers on the sequences that all trackers of the comparison have a score for.
struct Comparison {
  int better = 0;         ///< Place of the one with the larger mean.
  int worse = 0;          ///< Where the second is worse.
  int sequences = 0;      ///< That both have.
  double difference = 0;  ///< Of better less worse, in the mean.
  Interval interval;      ///< 95 %, for all pairs at once.
  Figure p;               ///< Of the signed-rank test, corrected for the number of pairs; it decides nothing.

  /// Whether the interval of the difference leaves out 0.
  [[nodiscard]] bool is_separated() const noexcept {
    return mnemon::is_separated(sequences, difference, interval);
  }
};

/// Every pair of the trackers that have a score, by the merit of the better and then of the worse; empty where fewer
/// than two trackers share two sequences. Thousands of draws of signs: to be worked out once.
[[nodiscard]] std::vector<Comparison> comparisons(const Results& results, int protocol);

/// A standing a tracker, by merit.
/// \param pairs  All comparisons under the protocol, here and below.
[[nodiscard]] std::vector<Standing> standings(const Results& results, int protocol,
                                              const std::vector<Comparison>& pairs);

/// The standings as a table.
[[nodiscard]] ReportTable standing_table(const Results& results, int protocol,
                                         const std::vector<Comparison>& pairs);

/// One row a tracker by merit: success area with group and interval, then what else the protocol's table has.
[[nodiscard]] ReportTable merit_table(const Results& results, int protocol,
                                      const std::vector<Comparison>& pairs);

/// In words: by how much which is better, or that the two are not separated.
[[nodiscard]] std::string verdict(const Study& study, const Comparison& comparison);

/// In words: who is most accurate, who is not separated from that, who of these is fastest, and what a few sequences
/// cannot say. Floors are left out. Empty where no tracker has a score.
[[nodiscard]] std::string answer_text(const Results& results, int protocol,
                                      const std::vector<Comparison>& pairs);

}  // namespace mnemon
