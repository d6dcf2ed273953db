// SPDX-License-Identifier: MIT
#include <mnemon/report/base64.hpp>

#include <algorithm>
#include <cstdint>

namespace mnemon {

std::string base64(std::string_view bytes) {
  constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
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

}  // namespace mnemon
