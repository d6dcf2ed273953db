// SPDX-License-Identifier: MIT
#include <mnemon/media/natural_order.hpp>

namespace mnemon {
namespace {

bool is_digit(char c) noexcept { return c >= '0' && c <= '9'; }

// Takes the run of digits at the start of `text`, without its leading zeros.
std::string_view take_number(std::string_view& text) noexcept {
  std::size_t length = 0;
  while (length < text.size() && is_digit(text[length])) ++length;
  std::string_view number = text.substr(0, length);
  text.remove_prefix(length);
  while (number.size() > 1 && number[0] == '0') number.remove_prefix(1);
  return number;
}

}  // namespace

bool comes_before(std::string_view a, std::string_view b) noexcept {
  const std::string_view whole_a = a;
  const std::string_view whole_b = b;
  while (!a.empty() && !b.empty()) {
    if (is_digit(a[0]) && is_digit(b[0])) {
      const std::string_view x = take_number(a);
      const std::string_view y = take_number(b);
      if (x.size() != y.size()) return x.size() < y.size();
      if (x != y) return x < y;
    } else {
      if (a[0] != b[0]) return static_cast<unsigned char>(a[0]) < static_cast<unsigned char>(b[0]);
      a.remove_prefix(1);
      b.remove_prefix(1);
    }
  }
  if (a.empty() != b.empty()) return a.empty();
  if (whole_a.size() != whole_b.size()) return whole_a.size() < whole_b.size();
  return whole_a < whole_b;
}

}  // namespace mnemon
