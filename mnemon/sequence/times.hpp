// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace mnemon {

/// Reads when each picture of a sequence was taken: columns frame and time_s, every frame from 0 on in order, times rising.
/// \returns  Seconds since the first.
/// \throws DataError  naming file, line and column, where a frame is missing, a time does not rise, or there is none.
[[nodiscard]] std::vector<double> read_times(const std::filesystem::path& file);

/// The same from text; `file` is what messages call it.
[[nodiscard]] std::vector<double> parse_times(std::string_view text, const std::filesystem::path& file);

/// The text of such a file; numbers read back exactly.
[[nodiscard]] std::string times_text(const std::vector<double>& times_s);

}  // namespace mnemon
