// SPDX-License-Identifier: MIT
#pragma once
#include <string_view>

namespace mnemon {

/// True where `a` comes before `b` as people number files: runs of digits are compared as numbers, the rest
/// by its bytes. Of `a1` and `a01` the shorter comes first, so that the order is total.
[[nodiscard]] bool comes_before(std::string_view a, std::string_view b) noexcept;

}  // namespace mnemon
