// SPDX-License-Identifier: MIT
#include <mnemon/base/plain_text.hpp>

#include <algorithm>
#include <cctype>
#include <cstddef>

#include <fmt/format.h>

#include <mnemon/base/fingerprint.hpp>

namespace mnemon {
namespace {

constexpr const char* kInPlace = "\xef\xbf\xbd";  // U+FFFD
constexpr std::size_t kLongestName = 100;
constexpr std::size_t kKeptOfLongName = 80;

bool is_continuation(std::string_view text, std::size_t at) {
  return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0) == 0x80;
}

// How many bytes the character at the beginning of `text` has; 0 where it is none: overlong forms, surrogates and numbers
// beyond U+10FFFF are none.
std::size_t character_length(std::string_view text) {
  const auto first = static_cast<unsigned char>(text[0]);
  if (first < 0x80) return 1;
  const std::size_t length = first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : 2;
  if (first < 0xC2 || first > 0xF4) return 0;
  for (std::size_t i = 1; i < length; ++i)
    if (!is_continuation(text, i)) return 0;
  const auto second = static_cast<unsigned char>(text[1]);
  if (first == 0xE0 && second < 0xA0) return 0;
  if (first == 0xED && second > 0x9F) return 0;
  if (first == 0xF0 && second < 0x90) return 0;
  if (first == 0xF4 && second > 0x8F) return 0;
  return length;
}

// U+0000 to U+001F, U+007F, and U+0080 to U+009F, which some terminals obey as well.
bool is_control(std::string_view character) {
  const auto first = static_cast<unsigned char>(character[0]);
  return first < 0x20 || first == 0x7F ||
         (first == 0xC2 && character.size() == 2 && static_cast<unsigned char>(character[1]) < 0xA0);
}

std::string shown(std::string_view text, std::string_view kept) {
  std::string plain;
  while (!text.empty()) {
    const std::size_t length = character_length(text);
    const std::string_view character = text.substr(0, length == 0 ? 1 : length);
    const bool stays =
        length > 0 && (!is_control(character) || kept.find(character[0]) != std::string_view::npos);
    if (stays)
      plain += character;
    else
      plain += kInPlace;
    text.remove_prefix(character.size());
  }
  return plain;
}

}  // namespace

std::string plain_line(std::string_view text) { return shown(text, ""); }

std::string plain_text(std::string_view text) { return shown(text, "\n\t"); }

std::string wrapped_text(std::string_view text, std::size_t width) {
  std::string out;
  std::size_t line = 0;
  for (std::size_t begin = 0; begin < text.size();) {
    const std::size_t end = std::min(text.find_first_of(" \n", begin), text.size());
    if (line > 0) {
      const bool fits = line + 1 + end - begin <= width;
      out += fits ? ' ' : '\n';
      line = fits ? line + 1 : 0;
    }
    out += text.substr(begin, end - begin);
    line += end - begin;
    if (end < text.size() && text[end] == '\n') {
      out += '\n';
      line = 0;
    }
    begin = end + 1;
  }
  return out;
}

std::string file_name_of(std::string_view text) {
  if (text.empty()) return "%";
  std::string name;
  std::size_t kept = 0;  // bytes of whole characters, as written, that a long name keeps
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    const bool stays =
        (byte < 0x80 && std::isalnum(byte) != 0) || c == '_' || c == '-' || (c == '.' && !name.empty());
    name += stays ? std::string(1, c) : fmt::format("%{:02X}", byte);
    if (name.size() <= kKeptOfLongName) kept = name.size();
  }
  if (name.size() <= kLongestName) return name;
  return name.substr(0, kept) + "~" + fingerprint(text);
}

}  // namespace mnemon
