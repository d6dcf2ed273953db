// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>
#include <vector>

namespace mnemon {

/// Letters that say which of several things are not separated: two share a letter exactly where they are not. The
/// first letters go to the first things; after `z` come `aa`, `ab` and so on, and several of one thing are joined by
/// blanks then.
/// \param count         How many there are, in the order in which they are shown.
/// \param is_separated  For two different places, in either order.
/// Source: Piepho 2004, an algorithm for a letter-based representation of all-pairwise comparisons.
[[nodiscard]] std::vector<std::string> group_letters(int count,
                                                     const std::function<bool(int, int)>& is_separated);

}  // namespace mnemon
