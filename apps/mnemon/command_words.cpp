// SPDX-License-Identifier: MIT
#include "command_words.hpp"

#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon::app {

std::vector<std::string> words_of_command(const std::string& text) {
  std::vector<std::string> words;
  char quote = 0;
  bool is_in_word = false;
  for (const char c : text) {
    if (quote == 0 && (c == ' ' || c == '\t')) {
      is_in_word = false;
      continue;
    }
    if (!is_in_word) words.emplace_back();
    is_in_word = true;
    if (c == quote)
      quote = 0;
    else if (quote == 0 && (c == '"' || c == '\''))
      quote = c;
    else
      words.back() += c;
  }
  if (quote != 0) throw CallError(fmt::format("the command {} has a {} that does not end", text, quote));
  if (words.empty() || words.front().empty()) throw CallError("--command names no program");
  return words;
}

ParamSet free_settings(const std::vector<std::string>& texts) {
  ParamSet set;
  for (const std::string& text : texts) {
    const std::size_t equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
      throw CallError(fmt::format("--set {} is no KEY=VAL", text));
    const std::string value = text.substr(equals + 1);
    const auto number = parse_real(value);
    if (value == "true" || value == "false")
      set[text.substr(0, equals)] = value == "true";
    else if (number && std::isfinite(*number))
      set[text.substr(0, equals)] = *number;
    else
      set[text.substr(0, equals)] = value;
  }
  return set;
}

}  // namespace mnemon::app
