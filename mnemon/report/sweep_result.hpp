// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/report/table.hpp>

namespace mnemon {

/// What one value of a parameter gave, over all variations that have it.
struct SweepEffect {
  std::string parameter;  ///< That was varied.
  std::string value;      ///< As text.
  int variations = 0;     ///< How many values or sets of values were tried.
  Figure mean;            ///< Success area, on the sequences that choose.
};

/// What a sweep came to. One half of the sequences chooses the best variation, the other says what it is worth, so that
/// nobody is misled by a choice made on what is reported.
struct SweepResult {
  int base = 0;                      ///< Place of the entry that was varied.
  std::vector<int> variations;       ///< Their places.
  std::vector<int> choosing;         ///< Places of the sequences that choose, and of those that report.
  std::vector<int> reporting;        ///< Places of the sequences that it is reported on.
  std::vector<Figure> chosen_by;     ///< A variation: its mean success area on the sequences that choose.
  std::vector<SweepEffect> effects;  ///< By parameter, then by value.
  int chosen = -1;                   ///< Place of the best variation; -1 where none has a score.
  PairedDifference gain;             ///< Of the chosen one less the base, on the sequences that report.
  Figure base_mean;                  ///< On those.
  Figure chosen_mean;                ///< On the reporting sequences.
};

/// The sweeps of a study under one protocol.
[[nodiscard]] std::vector<SweepResult> sweep_results(const Results& results, int protocol);

/// A row a value of each parameter: how sensitive the tracker is to it.
[[nodiscard]] ReportTable effect_table(const SweepResult& sweep, const Study& study);

/// The most a parameter's means differ by, for each parameter: `padding 0.12, learning_rate 0.03`.
[[nodiscard]] std::string sensitivity_text(const SweepResult& sweep);

/// In words: which variation was chosen on what, and what it is worth on the rest.
[[nodiscard]] std::string choice_text(const SweepResult& sweep, const Study& study);

}  // namespace mnemon
