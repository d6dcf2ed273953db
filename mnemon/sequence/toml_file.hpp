// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <initializer_list>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/error.hpp>
#include <mnemon/base/params.hpp>
#include <mnemon/geometry/box.hpp>
#include <mnemon/sequence/toml_package.hpp>

namespace mnemon {

/// A table of a TOML file that is read with checks: every message names file, line and column, what was
/// expected, and the nearest known key for an unknown one. The file must outlive its tables.
class TomlTable {
 public:
  /// Both must outlive it.
  TomlTable(const toml::table& table, const std::filesystem::path& file) : table_(&table), file_(&file) {}

  /// Whether there is such a key.
  [[nodiscard]] bool has(std::string_view key) const { return table_->contains(key); }

  /// \throws DataError  where a key is none of these.
  void allow_only(std::initializer_list<std::string_view> keys) const;

  /// The value of a key, of that type.
  /// \throws DataError  where it is missing or of another type.
  [[nodiscard]] std::string text(std::string_view key) const;
  /// A number, whole or not.
  [[nodiscard]] double number(std::string_view key) const;
  /// A whole number.
  [[nodiscard]] int whole(std::string_view key) const;
  /// An array of texts.
  [[nodiscard]] std::vector<std::string> texts(std::string_view key) const;

  /// A number above 0.
  [[nodiscard]] double positive(std::string_view key) const;
  /// An array of so many numbers.
  [[nodiscard]] std::vector<double> numbers(std::string_view key, std::size_t count) const;
  /// An array of at least one number.
  [[nodiscard]] std::vector<double> numbers(std::string_view key) const;
  /// An array of places, each an array of two numbers: [[x, y], ...].
  [[nodiscard]] std::vector<Point> points(std::string_view key) const;
  /// A table inside this one.
  [[nodiscard]] TomlTable table(std::string_view key) const;
  /// Whether there is such a key, and it is a table.
  [[nodiscard]] bool is_table(std::string_view key) const;
  /// An array of tables, written as [[key]]; empty where there is none.
  [[nodiscard]] std::vector<TomlTable> tables(std::string_view key) const;

  /// The values of this table as parameters of `owner`, checked against its schema.
  [[nodiscard]] ParamSet params(const Schema& schema, std::string_view owner) const;

  /// The values of this table as parameters that nothing describes: numbers, words, true or false.
  [[nodiscard]] ParamSet free_params() const;
  /// True or false.
  [[nodiscard]] bool flag(std::string_view key) const;

  /// The values that a list gives to one parameter of `owner`, each checked; at least one.
  [[nodiscard]] std::vector<ParamValue> param_values(std::string_view key, const Schema& schema,
                                                     std::string_view owner) const;

  /// The keys, in the order of their names.
  [[nodiscard]] std::vector<std::string> keys() const;

  /// Where a key's value stands; where the table stands for one that is missing.
  [[nodiscard]] Place place(std::string_view key) const;
  /// Where it stands in the file, for messages.
  [[nodiscard]] Place place() const;

  /// \throws DataError  where `format` is not the one given.
  void check_format(std::string_view wanted) const;

 private:
  [[nodiscard]] const toml::node& needed(std::string_view key) const;
  [[nodiscard]] ParamValue checked_param(const toml::node& node, const std::string& name,
                                         const Schema& schema, std::string_view owner) const;

  const toml::table* table_;
  const std::filesystem::path* file_;
};

/// A TOML file, parsed.
/// \throws DataError  naming file, line and column.
class TomlFile {
 public:
  /// Reads all of it.
  explicit TomlFile(std::filesystem::path file);
  /// From text; `file` is what messages call it.
  TomlFile(std::string_view text, std::filesystem::path file);

  /// What stands outside all tables, and holds these.
  [[nodiscard]] TomlTable root() const { return {table_, file_}; }

 private:
  std::filesystem::path file_;
  toml::table table_;
};

/// A text as TOML writes it, between quotes.
[[nodiscard]] std::string toml_string(const std::string& text);

}  // namespace mnemon
