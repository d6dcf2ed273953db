// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <string>
#include <string_view>
/// \file
/// Text that users give (labels, titles, names of folders) as it may be shown and as it may name a file.
namespace mnemon {

/// `text` as UTF-8 without control characters: each of these, and each byte that is no UTF-8, becomes U+FFFD.
[[nodiscard]] std::string plain_line(std::string_view text);

/// The same, but ends of lines and tabs stay.
[[nodiscard]] std::string plain_text(std::string_view text);

/// The text with its lines broken between words, so that none has more than `width` bytes where its words let it.
[[nodiscard]] std::string wrapped_text(std::string_view text, std::size_t width);

/// A text as a file's name, one-to-one: letters, digits, underscores, dashes and every dot but one in front stay,
/// each other byte becomes a percent sign and two hexadecimal digits, and an empty text a percent sign. Of a name
/// over 100 bytes the beginning stays, and behind a tilde a fingerprint of the text follows.
[[nodiscard]] std::string file_name_of(std::string_view text);

}  // namespace mnemon
