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
  Figure by_frames;                  ///< The mean weighted by present frames.
  Figure mean_rank;                  ///< From 1, over the sequences that every tracker has a score for.
};

/// Two trackers on the sequences that both have a score for.
struct Comparison {
  int better = 0;  ///< Place of the one with the larger mean.
  int worse = 0;
  PairedDifference difference;  ///< Of better less worse.
  Figure p;                     ///< Of the signed-rank test, corrected for the number of pairs shown.
};

/// A standing a tracker, in the study's order.
[[nodiscard]] std::vector<Standing> standings(const Results& results, int protocol);

/// Every pair of trackers; empty where there is one tracker only.
[[nodiscard]] std::vector<Comparison> comparisons(const Results& results, int protocol);

/// The standings as a table.
[[nodiscard]] ReportTable standing_table(const Results& results, int protocol);

/// In words: by how much which is better, and whether the signed-rank test leaves that open; or that the data do not
/// separate the two.
[[nodiscard]] std::string verdict(const Study& study, const Comparison& comparison);

/// Standings and verdicts as text for a terminal; empty where there is one tracker only.
[[nodiscard]] std::string comparison_text(const Results& results, int protocol);

}  // namespace mnemon
