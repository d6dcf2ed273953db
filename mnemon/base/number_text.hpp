// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>
/// \file
/// Numbers as text, without regard to the locale.
namespace mnemon {

/// The number that the whole of `text` stands for, blanks around it aside; nothing where it is not one.
/// Reads `nan`, `inf` and a leading `+` too.
[[nodiscard]] std::optional<double> parse_real(std::string_view text) noexcept;

/// The whole number in the range of `int` that the whole of `text` stands for.
[[nodiscard]] std::optional<int> parse_whole(std::string_view text) noexcept;

/// The shortest text that reads back as exactly `value`.
[[nodiscard]] std::string number_text(double value);

/// What stands before, between and behind the delimiters; one part where there is none, an empty one for an empty text.
[[nodiscard]] std::vector<std::string_view> parts_of(std::string_view text, char delimiter);

/// `text` without blanks at either end.
[[nodiscard]] std::string_view trimmed(std::string_view text) noexcept;

}  // namespace mnemon
