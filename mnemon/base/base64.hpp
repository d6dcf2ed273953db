// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <string>
#include <string_view>

namespace mnemon {

/// Bytes as text of 64 letters (RFC 4648, section 4).
[[nodiscard]] std::string base64(std::string_view bytes);

/// The bytes that such a text stands for; nothing where it is none.
[[nodiscard]] std::optional<std::string> bytes_of_base64(std::string_view text);

}  // namespace mnemon
