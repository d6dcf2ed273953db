// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <string>
#include <string_view>

namespace mnemon {

/// The known name that `word` most likely stands for, by the number of letters to change, add, drop or
/// swap (Damerau 1964); empty where none is near (more than a third of the letters, at least two).
[[nodiscard]] std::string nearest_name(std::string_view word, std::span<const std::string> known);

/// The known name that has taken the place of one from earlier versions; empty where none has.
[[nodiscard]] std::string newer_name(std::string_view word, std::span<const std::string> known);

/// For the end of a message about an unknown name: `; did you mean 'x'?` or `; known are a, b, c`, or where it is one
/// from before that a known one has taken the place of, `; it is called 'x' now`.
[[nodiscard]] std::string name_hint(std::string_view word, std::span<const std::string> known);

}  // namespace mnemon
