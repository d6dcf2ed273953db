// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/study/score_record.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

/// A table as text, ready to be laid out.
struct ReportTable {
  struct Column {
    std::string heading;
    std::string help;  ///< What the figure is, in a sentence.
  };
  struct Row {
    std::string tracker;
    std::string sequence;            ///< Or what the row is over.
    std::vector<std::string> cells;  ///< One a column; `-` for null.
    std::string note;                ///< Why there are no figures; empty where there are.
    int tracker_place = 0;
  };
  std::vector<Column> columns;
  std::vector<Row> rows;
};

/// A row a tracker: the mean over its sequences, every sequence with the same weight; speeds over all steps
/// together.
[[nodiscard]] ReportTable summary_table(const Study& study);

/// A row a run.
[[nodiscard]] ReportTable run_table(const Study& study);

/// A table laid out with blanks for a terminal.
[[nodiscard]] std::string table_text(const ReportTable& table);

/// The step times of all of a tracker's timed runs together, ms.
[[nodiscard]] std::vector<double> pooled_step_times(const Study& study, int tracker);

/// All that the tables show and more, as JSON: every run with all its scores.
[[nodiscard]] Json study_json(const Study& study);

}  // namespace mnemon
