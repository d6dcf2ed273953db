// SPDX-License-Identifier: MIT
#include <mnemon/report/paper.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/report/figure/figure_list.hpp>
#include <mnemon/report/table.hpp>
#include <mnemon/score/speed.hpp>
#include <mnemon/sequence/csv.hpp>
#include <mnemon/study/score_record.hpp>

namespace mnemon {
namespace {

constexpr double kNarrowestCm = 4;
constexpr double kWidestCm = 40;

// One value of a table, and the column that it stands in.
struct Cell {
  Figure value;
  std::optional<Interval> interval;
};

struct Column {
  std::string heading;
  std::string measure;
  Better better = Better::higher;
  int decimals = 3;
};

struct Row {
  std::string label;
  bool is_floor = false;
  std::vector<Cell> cells;
};

struct Table {
  std::string name;
  std::string first;
  std::vector<Column> columns;
  std::vector<Row> rows;
};

enum class Mark { none, best, second };

// The places of a column's marks: equal values as printed share one.
std::vector<Mark> marks_of(const Table& table, std::size_t column) {
  const Column& known = table.columns[column];
  const double sign = known.better == Better::lower ? -1 : 1;
  const double scale = std::pow(10, known.decimals);
  std::vector<Figure> values;
  for (const Row& row : table.rows) {
    const Figure& value = row.cells[column].value;
    values.push_back(value && !row.is_floor ? Figure(sign * std::round(*value * scale)) : Figure());
  }
  std::vector<double> sorted;
  for (const Figure& value : values)
    if (value) sorted.push_back(*value);
  std::ranges::sort(sorted, std::ranges::greater{});
  sorted.erase(std::ranges::unique(sorted).begin(), sorted.end());
  std::vector<Mark> marks;
  for (const Figure& value : values)
    marks.push_back(!value || sorted.size() < 2 ? Mark::none
                    : *value == sorted[0]       ? Mark::best
                    : *value == sorted[1]       ? Mark::second
                                                : Mark::none);
  return marks;
}

std::string value_text(const Cell& cell, const Column& column, bool has_intervals) {
  std::string text = cell_text(cell.value, column.decimals);
  if (has_intervals && cell.value && cell.interval)
    text += fmt::format(" ({:.{}f} to {:.{}f})", cell.interval->low, column.decimals, cell.interval->high,
                        column.decimals);
  return text;
}

std::string latex_of(const Table& table, bool has_intervals) {
  std::string text = "% Needs \\usepackage{booktabs} and \\usepackage[normalem]{ulem}.\n\\begin{tabular}{l";
  text += std::string(table.columns.size(), 'r') + "}\n\\toprule\n" + latex_text(table.first);
  for (const Column& column : table.columns) text += " & " + latex_text(column.heading);
  text += " \\\\\n\\midrule\n";
  std::vector<std::vector<Mark>> marks;
  for (std::size_t i = 0; i < table.columns.size(); ++i) marks.push_back(marks_of(table, i));
  for (std::size_t r = 0; r < table.rows.size(); ++r) {
    text += latex_text(table.rows[r].label);
    for (std::size_t i = 0; i < table.columns.size(); ++i) {
      const std::string value =
          latex_text(value_text(table.rows[r].cells[i], table.columns[i], has_intervals));
      const Mark mark = marks[i][r];
      text += " & " + (mark == Mark::best     ? "\\textbf{" + value + "}"
                       : mark == Mark::second ? "\\uline{" + value + "}"
                                              : value);
    }
    text += " \\\\\n";
  }
  return text + "\\bottomrule\n\\end{tabular}\n";
}

std::string markdown_of(const Table& table, bool has_intervals) {
  std::string text = "| " + markdown_text(table.first) + " |";
  std::string rule = "|---|";
  for (const Column& column : table.columns) {
    text += " " + markdown_text(column.heading) + " |";
    rule += "---:|";
  }
  text += "\n" + rule + "\n";
  std::vector<std::vector<Mark>> marks;
  for (std::size_t i = 0; i < table.columns.size(); ++i) marks.push_back(marks_of(table, i));
  for (std::size_t r = 0; r < table.rows.size(); ++r) {
    text += "| " + markdown_text(table.rows[r].label) + " |";
    for (std::size_t i = 0; i < table.columns.size(); ++i) {
      const std::string value = value_text(table.rows[r].cells[i], table.columns[i], has_intervals);
      const Mark mark = marks[i][r];
      text += " " +
              (mark == Mark::best     ? "**" + value + "**"
               : mark == Mark::second ? "<u>" + value + "</u>"
                                      : value) +
              " |";
    }
    text += "\n";
  }
  return text;
}

std::string csv_of(const Table& table) {
  std::string text = table.first;
  for (const Column& column : table.columns)
    text += fmt::format(",{0},{0} low,{0} high", csv_field(column.heading));
  text += "\n";
  const auto number = [](const Figure& figure) { return figure ? number_text(*figure) : std::string(); };
  for (const Row& row : table.rows) {
    text += csv_field(row.label);
    for (const Cell& cell : row.cells) {
      text += "," + number(cell.value);
      text += "," + (cell.interval ? number(cell.interval->low) : std::string());
      text += "," + (cell.interval ? number(cell.interval->high) : std::string());
    }
    text += "\n";
  }
  return text;
}

Cell cell_of(const MeanOver& over) { return {over.mean, over.interval}; }

// A row a tracker, with what papers print.
Table tracker_table(const Results& results, int protocol) {
  Table table{"trackers", "tracker", {}, {}};
  const std::array<Column, 6> wanted{Column{"success area", "success_area", Better::higher, 3},
                                     Column{"overlap > 0.5", "success_at_0.5", Better::higher, 3},
                                     Column{"within 20 px", "hit_rate_20", Better::higher, 3},
                                     Column{"hold F", "hold_f", Better::higher, 3},
                                     Column{"losses", "losses", Better::lower, 2},
                                     Column{"frames/s", "frames_per_s", Better::higher, 0}};
  for (const Column& column : wanted) table.columns.push_back(column);
  for (const int tracker : results.by_merit(protocol)) {
    const StudyTracker& known = results.study().trackers[tracker];
    Row row{known.label, known.is_floor(), {}};
    for (const Column& column : table.columns) {
      if (column.measure != "frames_per_s") {
        row.cells.push_back(cell_of(mean_over(results.values(tracker, protocol, column.measure))));
        continue;
      }
      const Speed speed = results.pooled_speed(tracker, protocol);
      row.cells.push_back({known.is_floor() ? Figure() : speed.frames_per_s, {}});
    }
    table.rows.push_back(std::move(row));
  }
  return table;
}

Table tag_table_of(const Results& results, int protocol) {
  Table table{"tags", "tracker", {}, {}};
  for (const std::string& tag : results.tags())
    table.columns.push_back({tag, "success_area", Better::higher, 3});
  for (const int tracker : results.by_merit(protocol)) {
    const StudyTracker& known = results.study().trackers[tracker];
    Row row{known.label, known.is_floor(), {}};
    for (const std::string& tag : results.tags())
      row.cells.push_back(cell_of(mean_over(results.tagged_values(tracker, protocol, "success_area", tag))));
    table.rows.push_back(std::move(row));
  }
  return table;
}

PaperTable in_all_forms(const Table& table, bool has_intervals) {
  return {table.name, latex_of(table, has_intervals), markdown_of(table, has_intervals), csv_of(table)};
}

}  // namespace

std::string latex_text(std::string_view text) {
  std::string safe;
  for (const char c : plain_line(text)) {
    if (std::string_view("&%$#_{}").find(c) != std::string_view::npos)
      safe += std::string("\\") + c;
    else if (c == '\\')
      safe += "\\textbackslash{}";
    else if (c == '~')
      safe += "\\textasciitilde{}";
    else if (c == '^')
      safe += "\\textasciicircum{}";
    else if (c == '<' || c == '>')
      safe += std::string("$") + c + "$";
    else
      safe += c;
  }
  return safe;
}

std::string markdown_text(std::string_view text) {
  std::string safe;
  for (const char c : plain_line(text)) {
    if (std::string_view("\\`*_{}[]<>#|!~&").find(c) != std::string_view::npos) safe += '\\';
    safe += c;
  }
  return safe;
}

std::vector<PaperTable> paper_tables(const Results& results, bool has_intervals) {
  std::vector<PaperTable> tables;
  if (results.protocols().empty()) return tables;
  const int protocol = results.protocols().front();
  tables.push_back(in_all_forms(tracker_table(results, protocol), has_intervals));
  if (!results.tags().empty()) tables.push_back(in_all_forms(tag_table_of(results, protocol), has_intervals));
  return tables;
}

std::filesystem::path write_paper(const Study& study, const PaperForm& form,
                                  const std::filesystem::path& study_folder) {
  if (form.width_cm != 0 && !(form.width_cm >= kNarrowestCm && form.width_cm <= kWidestCm))
    throw CallError(fmt::format("the width of figures is from {:g} to {:g} cm", kNarrowestCm, kWidestCm));
  const std::filesystem::path folder = study_folder / "report" / "paper";
  const Results results(study);
  for (const PaperTable& table : paper_tables(results, form.has_intervals)) {
    write_file(folder / "tables" / (table.name + ".md"), table.markdown);
    write_file(folder / "tables" / (table.name + ".csv"), table.csv);
    if (form.has_latex) write_file(folder / "tables" / (table.name + ".tex"), table.latex);
  }
  draw_figures(figures_of(answered_questions(results)), folder / "figures", {form.width_cm, form.has_pdf});
  return folder;
}

}  // namespace mnemon
