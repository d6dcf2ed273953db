// SPDX-License-Identifier: MIT
#include <mnemon/base/params.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon {
namespace {

std::vector<std::string> names_of(const Schema& schema) {
  std::vector<std::string> names;
  for (const Field& field : schema.fields) names.push_back(field.name);
  return names;
}

bool is_number(const Field& field) {
  return std::holds_alternative<int>(field.standard) || std::holds_alternative<double>(field.standard);
}

bool is_whole(double value) {
  return value == std::floor(value) && std::abs(value) <= std::numeric_limits<int>::max();
}

bool has_right_type(const Field& field, const ParamValue& value) {
  if (field.standard.index() == value.index()) return true;
  if (std::holds_alternative<double>(field.standard)) return std::holds_alternative<int>(value);
  const double* real = std::get_if<double>(&value);
  return std::holds_alternative<int>(field.standard) && real != nullptr && is_whole(*real);
}

bool is_allowed(const Field& field, const ParamValue& value) {
  if (const int* whole = std::get_if<int>(&value))
    return *whole >= field.range.low && *whole <= field.range.high;
  if (const double* real = std::get_if<double>(&value))
    return *real >= field.range.low && *real <= field.range.high;  // false for NaN
  if (const std::string* word = std::get_if<std::string>(&value)) {
    const auto is_choice = [&](std::string_view one) {
      return std::ranges::find(field.choices, one) != field.choices.end();
    };
    return field.is_list ? std::ranges::all_of(parts_of(*word, ' '), is_choice) : is_choice(*word);
  }
  return true;
}

std::string unknown_text(const Schema& schema, std::string_view owner, const std::string& name) {
  if (schema.fields.empty()) return fmt::format("'{}' has no parameters, so no '{}'", owner, name);
  return fmt::format("'{}' has no parameter '{}'{}", owner, name, name_hint(name, names_of(schema)));
}

std::string refusal_text(const Field& field, std::string_view owner, const std::string& given,
                         const char* why) {
  return fmt::format("{} = {} for '{}' {}: {} ({} if left out)", field.name, given, owner, why,
                     allowed_text(field), to_text(field.standard));
}

std::string wrong_type_text(const Field& field) { return "is not a " + type_name(field); }

std::optional<ParamValue> parse_value(const Field& field, std::string_view text) {
  if (std::holds_alternative<int>(field.standard)) {
    if (const auto whole = parse_whole(text)) return *whole;
    const auto real = parse_real(text);  // 8.0, or 1e3
    return real && is_whole(*real) ? std::optional<ParamValue>(static_cast<int>(*real)) : std::nullopt;
  }
  if (std::holds_alternative<double>(field.standard)) return parse_real(text);
  if (std::holds_alternative<std::string>(field.standard)) return std::string(text);
  if (text == "true") return true;
  if (text == "false") return false;
  return std::nullopt;
}

}  // namespace

const Field* Schema::find(std::string_view name) const noexcept {
  const auto at = std::ranges::find(fields, name, &Field::name);
  return at == fields.end() ? nullptr : &*at;
}

std::string type_name(const Field& field) {
  static constexpr const char* kNames[] = {"true or false", "whole number", "number", "word"};
  return field.is_list ? "list of words" : kNames[field.standard.index()];
}

std::string allowed_text(const Field& field) {
  if (std::holds_alternative<bool>(field.standard)) return "true or false";
  if (!is_number(field))
    return fmt::format("{}{}", field.is_list ? "in an order of choice, with blanks between them: " : "",
                       fmt::join(field.choices, ", "));
  const bool whole = std::holds_alternative<int>(field.standard);
  const auto end = [whole](double v) { return whole ? fmt::format("{:.0f}", v) : number_text(v); };
  std::string text = end(field.range.low) + " to " + end(field.range.high);
  return field.unit.empty() ? text : text + " " + field.unit;
}

std::string to_text(const ParamValue& value) {
  if (const bool* flag = std::get_if<bool>(&value)) return *flag ? "true" : "false";
  if (const int* whole = std::get_if<int>(&value)) return std::to_string(*whole);
  if (const double* real = std::get_if<double>(&value)) return number_text(*real);
  return std::get<std::string>(value);
}

std::string problem_with(const Schema& schema, std::string_view owner, const std::string& name,
                         const ParamValue& value) {
  const Field* field = schema.find(name);
  if (field == nullptr) return unknown_text(schema, owner, name);
  if (!has_right_type(*field, value))
    return refusal_text(*field, owner, to_text(value), wrong_type_text(*field).c_str());
  if (is_allowed(*field, value)) return {};
  const std::string given = to_text(value);
  if (is_number(*field)) return refusal_text(*field, owner, given, "is out of range");
  std::string why = "is not known";
  for (const std::string_view word : parts_of(given, ' '))
    if (const std::string now = newer_name(word, field->choices); !now.empty())
      why = fmt::format("has '{}', which is called '{}' now", word, now);
  return refusal_text(*field, owner, given, why.c_str());
}

void set_from_text(ParamSet& params, const Schema& schema, std::string_view owner, std::string_view text) {
  const auto split = text.find('=');
  if (split == std::string_view::npos || split == 0)
    throw CallError(fmt::format("'{}' does not set a parameter: write name=value", text));
  const std::string name(trimmed(text.substr(0, split)));
  const std::string_view given = trimmed(text.substr(split + 1));
  const Field* field = schema.find(name);
  if (field == nullptr) throw CallError(unknown_text(schema, owner, name));
  const auto value = parse_value(*field, given);
  if (!value)
    throw CallError(refusal_text(*field, owner, std::string(given), wrong_type_text(*field).c_str()));
  const std::string problem = problem_with(schema, owner, name, *value);
  if (!problem.empty()) throw CallError(problem);
  params[name] = *value;
}

void detail::refuse(std::string_view owner, const CallError& error) {
  throw CallError(fmt::format("'{}': {}", owner, error.what()));
}

ParamValue of_type_of(const ParamValue& standard, const ParamValue& value) {
  if (std::holds_alternative<double>(standard))
    if (const int* whole = std::get_if<int>(&value)) return static_cast<double>(*whole);
  if (std::holds_alternative<int>(standard))
    if (const double* real = std::get_if<double>(&value)) return static_cast<int>(*real);
  return value;
}

ParamSet with_presets(const ParamSet& params, const Schema& schema) {
  ParamSet all = params;
  for (const Field& field : schema.fields) {
    if (field.presets.empty()) continue;
    const auto given = params.find(field.name);
    const ParamValue& word = given == params.end() ? field.standard : given->second;
    const auto sets = field.presets.find(std::get<std::string>(word));
    if (sets != field.presets.end()) all.insert(sets->second.begin(), sets->second.end());
  }
  return all;
}

ParamSet completed(const ParamSet& params, const Schema& schema) {
  ParamSet all;
  const ParamSet set = with_presets(params, schema);
  for (const Field& field : schema.fields) {
    const auto at = set.find(field.name);
    all[field.name] = at == set.end() ? field.standard : of_type_of(field.standard, at->second);
  }
  return all;
}

bool differ_at_step_only(const ParamSet& one, const ParamSet& other, const Schema& schema) {
  const ParamSet of_one = completed(one, schema);
  const ParamSet of_other = completed(other, schema);
  return std::ranges::all_of(schema.fields, [&](const Field& field) {
    return field.acts_at_step || of_one.at(field.name) == of_other.at(field.name);
  });
}

}  // namespace mnemon
