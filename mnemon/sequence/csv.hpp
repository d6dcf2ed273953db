// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/error.hpp>

namespace mnemon {

/// A text as one field: quoted where it holds a comma, a quote, an end of line or a mark of comments.
[[nodiscard]] std::string csv_field(const std::string& text);

/// Comma-separated text with a header row (RFC 4180), every field with its place for messages.
///
/// Lines that are blank or whose first mark is `#` are dropped, before the header too. LF, CRLF, a byte-order
/// mark and quoted fields are read. A short row is filled up with empty fields.
class CsvTable {
 public:
  /// \param text  What the file holds.
  /// \param file  What messages call it.
  /// \throws DataError  where there is no header, a row is longer than it, or a quote is not closed.
  CsvTable(std::string_view text, std::filesystem::path file);

  /// Without the first line.
  [[nodiscard]] int row_count() const noexcept { return static_cast<int>(rows_.size()); }

  /// The column of that name, where there is one.
  /// \throws DataError  where two have it.
  [[nodiscard]] std::optional<int> column(std::string_view name) const;

  /// The column of that name.
  /// \throws DataError  where there is none, naming those there are, or two.
  [[nodiscard]] int needed_column(std::string_view name) const;

  /// A field without the blanks around it.
  [[nodiscard]] std::string_view text(int row, int column) const;

  /// Whether the field is empty, or `column` is none.
  [[nodiscard]] bool is_empty(int row, std::optional<int> column) const;

  /// A field as a number, `nan` and `inf` included.
  /// \throws DataError  where it is no number.
  [[nodiscard]] double number(int row, int column) const;

  /// A field as a whole number, at least 0.
  /// \throws DataError  where it is not.
  [[nodiscard]] int index(int row, int column) const;

  /// A field as 0 or 1.
  /// \throws DataError  where it is neither.
  [[nodiscard]] bool flag(int row, int column) const;

  /// Where a field stands.
  [[nodiscard]] Place place(int row, int column) const;

  /// For messages.
  [[nodiscard]] const std::filesystem::path& file() const noexcept { return file_; }

 private:
  struct Cell {
    std::string text;
    int line = 0;
    int column = 0;
  };
  using Row = std::vector<Cell>;
  class Reader;

  std::filesystem::path file_;
  Row header_;
  std::vector<Row> rows_;
};

}  // namespace mnemon
