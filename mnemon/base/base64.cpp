// SPDX-License-Identifier: MIT
#include <mnemon/base/base64.hpp>

#include <algorithm>
#include <array>
#include <cstdint>

namespace mnemon {
namespace {

constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

constexpr std::array<std::int8_t, 256> kValues = [] {
  std::array<std::int8_t, 256> values{};
  values.fill(-1);
  for (std::size_t i = 0; i < kLetters.size(); ++i)
    values[static_cast<unsigned char>(kLetters[i])] = static_cast<std::int8_t>(i);
  return values;
}();

}  // namespace

std::string base64(std::string_view bytes) {
  std::string text;
  text.reserve((bytes.size() + 2) / 3 * 4);
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    const std::size_t count = std::min<std::size_t>(3, bytes.size() - i);
    std::uint32_t word = 0;
    for (std::size_t k = 0; k < 3; ++k)
      word = (word << 8) | (k < count ? static_cast<unsigned char>(bytes[i + k]) : 0U);
    for (std::size_t k = 0; k < 4; ++k) text += k <= count ? kLetters[(word >> (18 - 6 * k)) & 63U] : '=';
  }
  return text;
}

std::optional<std::string> bytes_of_base64(std::string_view text) {
  if (text.size() % 4 != 0) return std::nullopt;
  const std::size_t padding = text.ends_with("==") ? 2 : text.ends_with('=') ? 1 : 0;
  std::string bytes;
  bytes.reserve(text.size() / 4 * 3);
  for (std::size_t i = 0; i < text.size(); i += 4) {
    const std::size_t count = 4 - (i + 4 == text.size() ? padding : 0);
    std::uint32_t word = 0;
    for (std::size_t k = 0; k < 4; ++k) {
      const int value = k < count ? kValues[static_cast<unsigned char>(text[i + k])] : 0;
      if (value < 0) return std::nullopt;
      word = word << 6 | static_cast<std::uint32_t>(value);
    }
    for (std::size_t k = 0; k + 1 < count; ++k) bytes += static_cast<char>(word >> (16 - 8 * k) & 0xFFU);
  }
  return bytes;
}

}  // namespace mnemon
