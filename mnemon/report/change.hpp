// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// One tracker of one study.
struct ChangeSide {
  const Results& results;  ///< Of a study.
  int tracker = 0;         ///< Its place in that.
};

/// What is looked at.
struct ChangeOptions {
  std::string protocol = "single";       ///< Of the runs that are compared.
  std::string measure = "success_area";  ///< What is compared.
  double margin = 0.01;                  ///< A smaller difference on a sequence counts as none.
};

/// How a sequence fared.
struct SequenceChange {
  std::string sequence;  ///< On which both ran.
  double before = 0;     ///< What was measured on it.
  double after = 0;      ///< The same, after the change.
  int verdict = 0;       ///< 1 better, -1 worse, 0 as it was.

  /// Above 0 where it has grown.
  [[nodiscard]] double difference() const noexcept { return after - before; }
};

/// How the sequences with a tag fared.
struct TagChange {
  std::string tag;              ///< Of the sequences.
  PairedDifference difference;  ///< After less before.
};

/// One tracker before and after, or two trackers, on the sequences that both have a figure for.
struct Change {
  std::string before;                     ///< Labels.
  std::string after;                      ///< The other tracker's label.
  ChangeOptions options;                  ///< What was asked for.
  std::vector<SequenceChange> sequences;  ///< By falling size of the difference.
  std::vector<std::string> left_out;      ///< In words: what could not be compared, and why.
  Figure before_mean;                     ///< Over the sequences that both have.
  Figure after_mean;                      ///< Likewise.
  PairedDifference overall;               ///< After less before.
  std::vector<TagChange> tags;            ///< Those with sequences enough.
  Figure before_step_ms;                  ///< Medians over all timed steps.
  Figure after_step_ms;                   ///< Mean step, ms.
};

/// Compares sequence by sequence: those of one name whose frames and truth are the same.
/// \throws CallError  where a study has no such protocol, or there is no such measure.
[[nodiscard]] Change find_change(const ChangeSide& before, const ChangeSide& after,
                                 const ChangeOptions& options);

/// For a terminal.
[[nodiscard]] std::string change_text(const Change& change);

[[nodiscard]] Json change_json(const Change& change);

}  // namespace mnemon
