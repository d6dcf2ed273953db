// SPDX-License-Identifier: MIT
#include <mnemon/base/number_text.hpp>

#include <array>
#include <charconv>

namespace mnemon {
namespace {

template <class Number>
std::optional<Number> parse(std::string_view text) noexcept {
  text = trimmed(text);
  if (text.size() > 1 && text[0] == '+' && text[1] != '-') text.remove_prefix(1);
  Number value{};
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return value;
}

}  // namespace

std::optional<double> parse_real(std::string_view text) noexcept { return parse<double>(text); }

std::optional<int> parse_whole(std::string_view text) noexcept { return parse<int>(text); }

std::string number_text(double value) {
  std::array<char, 32> buffer{};
  const auto [end, code] = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value);
  return {buffer.data(), end};
}

std::string_view trimmed(std::string_view text) noexcept {
  constexpr std::string_view kBlank = " \t\r";
  const auto first = text.find_first_not_of(kBlank);
  if (first == std::string_view::npos) return {};
  return text.substr(first, text.find_last_not_of(kBlank) - first + 1);
}

std::vector<std::string_view> parts_of(std::string_view text, char delimiter) {
  std::vector<std::string_view> parts;
  for (std::size_t begin = 0; begin <= text.size();) {
    const std::size_t end = std::min(text.find(delimiter, begin), text.size());
    parts.push_back(text.substr(begin, end - begin));
    begin = end + 1;
  }
  return parts;
}

}  // namespace mnemon
