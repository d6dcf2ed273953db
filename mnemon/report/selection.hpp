// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/study/study.hpp>

namespace mnemon {

/// Which of a study's trackers are shown, and as what. Nothing is run again for it.
struct Selection {
  std::vector<std::string> only;  ///< Labels as the plan gives them; empty for all.
  /// Another name for a tracker.
  struct Renaming {
    std::string label;  ///< As the study has it.
    std::string shown;  ///< As it is to be shown.
  };
  std::vector<Renaming> rename;  ///< In any order.
};

/// The study as it would be with these trackers alone, under their new labels. Variations of sweeps go with the entry that they vary.
/// \throws CallError  where there is no tracker of a label, naming the nearest; where two would be shown alike.
[[nodiscard]] Study selected(Study study, const Selection& selection);

/// A renaming from `LABEL=SHOWN`. A label may itself hold `=`: then the last one counts.
/// \throws CallError  where a part is missing.
[[nodiscard]] Selection::Renaming parse_renaming(const std::string& text);

/// Labels from `A,B,C`.
/// \throws CallError  where one is empty.
[[nodiscard]] std::vector<std::string> parse_labels(const std::string& text);

}  // namespace mnemon
