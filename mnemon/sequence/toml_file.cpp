// SPDX-License-Identifier: MIT
#include <mnemon/sequence/toml_file.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/whole_file.hpp>

namespace mnemon {
namespace {

Place place_of(const std::filesystem::path& file, const toml::source_region& source) {
  return {file, static_cast<int>(source.begin.line), static_cast<int>(source.begin.column)};
}

toml::table parsed(std::string_view text, const std::filesystem::path& file) {
  try {
    return toml::parse(text);
  } catch (const toml::parse_error& error) {
    throw DataError(place_of(file, error.source()), std::string(error.description()));
  }
}

std::optional<ParamValue> as_param(const toml::node& node) {
  if (const auto* flag = node.as_boolean()) return flag->get();
  if (const auto* real = node.as_floating_point()) return real->get();
  if (const auto* word = node.as_string()) return word->get();
  const auto* whole = node.as_integer();
  if (whole == nullptr) return std::nullopt;
  if (whole->get() >= std::numeric_limits<int>::min() && whole->get() <= std::numeric_limits<int>::max())
    return static_cast<int>(whole->get());
  return static_cast<double>(whole->get());
}

}  // namespace

void TomlTable::allow_only(std::initializer_list<std::string_view> keys) const {
  for (const auto& [key, value] : *table_) {
    if (std::ranges::find(keys, key.str()) != keys.end()) continue;
    const std::vector<std::string> known(keys.begin(), keys.end());
    throw DataError(place_of(*file_, key.source()),
                    fmt::format("'{}' is not known here{}", key.str(), name_hint(key.str(), known)));
  }
}

const toml::node& TomlTable::needed(std::string_view key) const {
  const toml::node* node = table_->get(key);
  if (node == nullptr) throw DataError(place(), fmt::format("'{}' is missing", key));
  return *node;
}

std::string TomlTable::text(std::string_view key) const {
  const auto* value = needed(key).as_string();
  if (value == nullptr) throw DataError(place(key), fmt::format("'{}' must be text in quotes", key));
  return value->get();
}

double TomlTable::number(std::string_view key) const {
  const auto value = needed(key).value<double>();
  if (!needed(key).is_number() || !value)
    throw DataError(place(key), fmt::format("'{}' must be a number", key));
  return *value;
}

int TomlTable::whole(std::string_view key) const {
  const auto* value = needed(key).as_integer();
  constexpr auto kMost = std::numeric_limits<int>::max();
  if (value == nullptr || value->get() < 0 || value->get() > kMost)
    throw DataError(place(key), fmt::format("'{}' must be a whole number from 0", key));
  return static_cast<int>(value->get());
}

std::vector<std::string> TomlTable::texts(std::string_view key) const {
  std::vector<std::string> texts;
  const auto* values = needed(key).as_array();
  if (values == nullptr) throw DataError(place(key), fmt::format("'{}' must be a list of texts", key));
  for (const toml::node& value : *values) {
    const auto* text = value.as_string();
    if (text == nullptr)
      throw DataError(place_of(*file_, value.source()),
                      fmt::format("'{}' must hold only texts in quotes", key));
    texts.push_back(text->get());
  }
  return texts;
}

double TomlTable::positive(std::string_view key) const {
  const double value = number(key);
  if (!(value > 0 && value < std::numeric_limits<double>::infinity()))
    throw DataError(place(key), fmt::format("'{}' must be above 0", key));
  return value;
}

std::vector<double> TomlTable::numbers(std::string_view key, std::size_t count) const {
  std::vector<double> numbers;
  const auto* values = needed(key).as_array();
  if (values != nullptr)
    for (const toml::node& value : *values)
      if (const auto number = value.is_number() ? value.value<double>() : std::nullopt)
        numbers.push_back(*number);
  if (values == nullptr || values->size() != count || numbers.size() != count)
    throw DataError(place(key), fmt::format("'{}' must be a list of {} numbers", key, count));
  return numbers;
}

std::vector<double> TomlTable::numbers(std::string_view key) const {
  const auto* values = needed(key).as_array();
  return numbers(key, values == nullptr ? 1 : std::max<std::size_t>(1, values->size()));
}

std::vector<Point> TomlTable::points(std::string_view key) const {
  std::vector<Point> points;
  const auto* values = needed(key).as_array();
  const auto wrong = [&] {
    return DataError(place(key),
                     fmt::format("'{}' must be a list of places, each a list of two numbers", key));
  };
  if (values == nullptr) throw wrong();
  for (const toml::node& value : *values) {
    const auto* pair = value.as_array();
    if (pair == nullptr || pair->size() != 2) throw wrong();
    const auto number = [pair](std::size_t i) {
      const toml::node& one = *pair->get(i);
      return one.is_number() ? one.value_or(std::nan("")) : std::nan("");
    };
    points.push_back({number(0), number(1)});
    if (!std::isfinite(points.back().x) || !std::isfinite(points.back().y)) throw wrong();
  }
  return points;
}

bool TomlTable::is_table(std::string_view key) const { return needed(key).is_table(); }

TomlTable TomlTable::table(std::string_view key) const {
  const auto* inner = needed(key).as_table();
  if (inner == nullptr) throw DataError(place(key), fmt::format("'{}' must be a table", key));
  return {*inner, *file_};
}

std::vector<TomlTable> TomlTable::tables(std::string_view key) const {
  std::vector<TomlTable> tables;
  if (!has(key)) return tables;
  const auto* values = needed(key).as_array();
  if (values == nullptr || !values->is_homogeneous(toml::node_type::table))
    throw DataError(place(key), fmt::format("'{0}' must be tables, each headed [[{0}]]", key));
  for (const toml::node& value : *values) tables.emplace_back(*value.as_table(), *file_);
  return tables;
}

ParamSet TomlTable::params(const Schema& schema, std::string_view owner) const {
  ParamSet params;
  for (const auto& [key, value] : *table_) {
    const std::string name(key.str());
    params[name] = checked_param(value, name, schema, owner);
  }
  return params;
}

ParamSet TomlTable::free_params() const {
  ParamSet params;
  for (const auto& [key, value] : *table_) {
    const auto given = as_param(value);
    if (!given)
      throw DataError(place(key.str()),
                      fmt::format("'{}' must be a number, a word, or true or false", key.str()));
    params[std::string(key.str())] = *given;
  }
  return params;
}

bool TomlTable::flag(std::string_view key) const {
  const auto value = needed(key).value_exact<bool>();
  if (!value) throw DataError(place(key), fmt::format("'{}' must be true or false", key));
  return *value;
}

std::vector<ParamValue> TomlTable::param_values(std::string_view key, const Schema& schema,
                                                std::string_view owner) const {
  const auto* list = needed(key).as_array();
  if (list == nullptr || list->empty())
    throw DataError(place(key), fmt::format("'{}' must be a list of values", key));
  std::vector<ParamValue> values;
  for (const toml::node& value : *list)
    values.push_back(checked_param(value, std::string(key), schema, owner));
  return values;
}

std::vector<std::string> TomlTable::keys() const {
  std::vector<std::string> keys;
  for (const auto& [key, value] : *table_) keys.emplace_back(key.str());
  return keys;
}

ParamValue TomlTable::checked_param(const toml::node& node, const std::string& name, const Schema& schema,
                                    std::string_view owner) const {
  const auto given = as_param(node);
  if (!given)
    throw DataError(place_of(*file_, node.source()),
                    fmt::format("'{}' must be a number, a text, true or false", name));
  const std::string problem = problem_with(schema, owner, name, *given);
  if (!problem.empty()) throw DataError(place_of(*file_, node.source()), problem);
  return *given;
}

Place TomlTable::place(std::string_view key) const {
  const toml::node* node = table_->get(key);
  return node == nullptr ? place() : place_of(*file_, node->source());
}

Place TomlTable::place() const { return place_of(*file_, table_->source()); }

void TomlTable::check_format(std::string_view wanted) const {
  const std::string format = text("format");
  if (format != wanted)
    throw DataError(place("format"), fmt::format("format '{}' cannot be read; '{}' can", format, wanted));
}

TomlFile::TomlFile(std::filesystem::path file)
    : file_(std::move(file)), table_(parsed(read_file(file_), file_)) {}

TomlFile::TomlFile(std::string_view text, std::filesystem::path file)
    : file_(std::move(file)), table_(parsed(text, file_)) {}

std::string toml_string(const std::string& text) {
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\') out += '\\';
    if (static_cast<unsigned char>(c) < 0x20)
      out += fmt::format("\\u{:04X}", c);
    else
      out += c;
  }
  return out + "\"";
}

}  // namespace mnemon
