// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <string>
#include <string_view>

namespace mnemon {

/// Works out a number that changes when any byte does that was put in, or where one piece ends and the next begins. It
/// tells things apart; it does not keep anybody from making two alike.
class Fingerprint {
 public:
  /// Takes further bytes in.
  void add(std::string_view bytes) noexcept;
  /// Sixteen hexadecimal digits.
  [[nodiscard]] std::string text() const;

 private:
  std::uint64_t state_ = 1;
};

/// Of one piece.
[[nodiscard]] std::string fingerprint(std::string_view bytes);

}  // namespace mnemon
