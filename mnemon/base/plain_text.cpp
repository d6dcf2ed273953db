// SPDX-License-Identifier: MIT
#include <mnemon/base/plain_text.hpp>

#include <algorithm>
#include <cctype>
#include <cstddef>
#include <iterator>

#include <fmt/format.h>
#include <utf8.h>

#include <mnemon/base/fingerprint.hpp>

namespace mnemon {
namespace {

constexpr char32_t kInPlace = 0xFFFD;
constexpr std::size_t kLongestName = 100;
constexpr std::size_t kKeptOfLongName = 80;

// U+0000 to U+001F, U+007F, and U+0080 to U+009F, which some terminals obey as well.
bool is_control(char32_t character) { return character < 0x20 || (character >= 0x7F && character < 0xA0); }

std::string shown(std::string_view text, std::u32string_view kept) {
  std::string plain;
  auto at = text.begin();
  while (at != text.end()) {
    const auto invalid = utf8::find_invalid(at, text.end());
    while (at != invalid) {
      const char32_t character = utf8::unchecked::next(at);
      const bool stays = !is_control(character) || kept.find(character) != std::u32string_view::npos;
      utf8::unchecked::append(stays ? character : kInPlace, std::back_inserter(plain));
    }
    if (at == text.end()) break;
    utf8::unchecked::append(kInPlace, std::back_inserter(plain));
    ++at;
  }
  return plain;
}

}  // namespace

std::string plain_line(std::string_view text) { return shown(text, U""); }

std::string plain_text(std::string_view text) { return shown(text, U"\n\t"); }

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
