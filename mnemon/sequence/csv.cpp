// SPDX-License-Identifier: MIT
#include <mnemon/sequence/csv.hpp>

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon {

// Walks through the text once; lines and columns count from 1.
class CsvTable::Reader {
 public:
  Reader(std::string_view text, const std::filesystem::path& file) : text_(text), file_(file) {
    if (text_.starts_with("\xef\xbb\xbf")) at_ = 3;
  }

  // The next row that is neither blank nor a comment; empty at the end.
  Row next() {
    while (at_ < text_.size()) {
      const std::string_view line = trimmed(rest_of_line());
      if (!line.empty() && line[0] != '#') return record();
      skip_line();
    }
    return {};
  }

 private:
  std::string_view rest_of_line() const { return text_.substr(at_, text_.find('\n', at_) - at_); }

  void skip_line() {
    at_ = std::min(text_.size(), at_ + rest_of_line().size() + 1);
    begin_line();
  }

  void begin_line() {
    ++line_;
    line_start_ = at_;
  }

  Row record() {
    Row row;
    for (;;) {
      row.push_back(field());
      if (at_ >= text_.size()) return row;
      const char end = text_[at_++];
      if (end == '\n') {
        begin_line();
        return row;
      }
    }
  }

  // Stops at the comma or line end after the field, or at the end of the text.
  Cell field() {
    while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
    Cell cell{"", line_, static_cast<int>(at_ - line_start_) + 1};
    if (at_ < text_.size() && text_[at_] == '"') {
      quoted(cell);
      return cell;
    }
    const std::size_t end = std::min(text_.find_first_of(",\n", at_), text_.size());
    cell.text = trimmed(text_.substr(at_, end - at_));
    at_ = end;
    return cell;
  }

  void quoted(Cell& cell) {
    ++at_;
    for (;; ++at_) {
      if (at_ >= text_.size())
        throw DataError({file_, cell.line, cell.column}, "a quoted field is not closed");
      if (text_[at_] == '"') {
        ++at_;
        if (at_ >= text_.size() || text_[at_] != '"') break;
      }
      cell.text += text_[at_];
      if (text_[at_] == '\n') {
        ++line_;
        line_start_ = at_ + 1;
      }
    }
    const std::size_t end = std::min(text_.find_first_of(",\n", at_), text_.size());
    if (!trimmed(text_.substr(at_, end - at_)).empty())
      throw DataError({file_, line_, static_cast<int>(at_ - line_start_) + 1},
                      "text follows the closing quote of a field; a quote inside a field is written twice");
    at_ = end;
  }

  std::string_view text_;
  const std::filesystem::path& file_;
  std::size_t at_ = 0;
  std::size_t line_start_ = 0;
  int line_ = 1;
};

std::string csv_field(const std::string& text) {
  if (text.find_first_of(",\"\r\n#") == std::string::npos) return text;
  std::string quoted = "\"";
  for (const char c : text) quoted += c == '"' ? "\"\"" : std::string(1, c);
  return quoted + "\"";
}

CsvTable::CsvTable(std::string_view text, std::filesystem::path file) : file_(std::move(file)) {
  Reader reader(text, file_);
  header_ = reader.next();
  if (header_.empty()) throw DataError({file_}, "has no header row");
  for (Row row = reader.next(); !row.empty(); row = reader.next()) {
    if (row.size() > header_.size()) {
      const Cell& extra = row[header_.size()];
      throw DataError({file_, extra.line, extra.column},
                      fmt::format("the row has {} fields, the header only {}", row.size(), header_.size()));
    }
    row.resize(header_.size(), {"", row.front().line, 0});
    rows_.push_back(std::move(row));
  }
}

std::optional<int> CsvTable::column(std::string_view name) const {
  std::optional<int> found;
  for (std::size_t i = 0; i < header_.size(); ++i) {
    if (header_[i].text != name) continue;
    if (found)
      throw DataError({file_, header_[i].line, header_[i].column},
                      fmt::format("column '{}' is there twice", name));
    found = static_cast<int>(i);
  }
  return found;
}

int CsvTable::needed_column(std::string_view name) const {
  const auto found = column(name);
  if (found) return *found;
  std::vector<std::string> names;
  for (const Cell& cell : header_) names.push_back("'" + cell.text + "'");
  throw DataError({file_, header_.front().line, header_.front().column},
                  fmt::format("the header has no column '{}'{}", name, name_hint(name, names)));
}

std::string_view CsvTable::text(int row, int column) const { return rows_[row][column].text; }

bool CsvTable::is_empty(int row, std::optional<int> column) const {
  return !column || text(row, *column).empty();
}

double CsvTable::number(int row, int column) const {
  const auto value = parse_real(text(row, column));
  if (!value)
    throw DataError(place(row, column), fmt::format("'{}' in column '{}' is not a number", text(row, column),
                                                    header_[column].text));
  return *value;
}

int CsvTable::index(int row, int column) const {
  const double value = is_empty(row, column) ? std::nan("") : number(row, column);
  if (!(value >= 0 && value <= std::numeric_limits<int>::max()) || value != std::floor(value))
    throw DataError(place(row, column), fmt::format("'{}' in column '{}' is not a whole number from 0",
                                                    text(row, column), header_[column].text));
  return static_cast<int>(value);
}

bool CsvTable::flag(int row, int column) const {
  const double value = number(row, column);
  if (value != 0 && value != 1)
    throw DataError(place(row, column), fmt::format("'{}' in column '{}' is neither 0 nor 1",
                                                    text(row, column), header_[column].text));
  return value == 1;
}

Place CsvTable::place(int row, int column) const {
  const Cell& cell = rows_[row][column];
  return {file_, cell.line, cell.column};
}

}  // namespace mnemon
