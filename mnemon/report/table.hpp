// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>
#include <vector>

#include <mnemon/report/results.hpp>

namespace mnemon {

/// A table as text, ready to be laid out.
struct ReportTable {
  /// What stands above and in a column.
  struct Column {
    std::string heading;  ///< Of the column.
    std::string help;     ///< What the figure is, in a sentence.
  };
  /// One line of the table.
  struct Row {
    std::string tracker;             ///< Or what else the row is of.
    std::string sequence;            ///< Or what the row is over.
    std::vector<std::string> cells;  ///< One a column; `-` for null.
    std::string note;                ///< Why runs failed; empty where none did.
    int tracker_place = 0;           ///< -1 where the row is not one of a tracker.
  };
  std::string first = "tracker";  ///< Headings of what the rows are.
  std::string second = "over";    ///< What to compare with.
  std::vector<Column> columns;    ///< From the left.
  std::vector<Row> rows;          ///< From the top.
  std::string footnote;           ///< What the table's asterisks mean; empty where it has none.
};

/// A row a tracker: the mean over its sequences, every sequence with the same weight; speeds over all steps
/// together. The columns are those that matter under the protocol.
[[nodiscard]] ReportTable summary_table(const Results& results, int protocol);

/// A row a tracker and sequence, the mean over the protocol's runs on it, one after the other: those of a large study take much
/// memory.
/// \param use  Is given each row.
/// \returns  The table without its rows.
ReportTable visit_sequence_rows(const Results& results, int protocol,
                                const std::function<void(const ReportTable::Row&)>& use);

/// A row a tag, a column a tracker: the mean success area over the sequences with that tag, inside its spans where
/// there are any. Empty where no sequence has a tag.
[[nodiscard]] ReportTable tag_table(const Results& results, int protocol);

/// A table laid out with blanks for a terminal.
[[nodiscard]] std::string table_text(const ReportTable& table);

/// A figure as a table's cell: `-` for null.
[[nodiscard]] std::string cell_text(const Figure& figure, int decimals);

/// An interval as a table's cell.
[[nodiscard]] std::string interval_text(const std::optional<Interval>& interval);

}  // namespace mnemon
