// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <string_view>

namespace mnemon {

/// Bytes as text of 64 letters (RFC 4648, section 4), to put pictures into a page.
[[nodiscard]] std::string base64(std::string_view bytes);

}  // namespace mnemon
