// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/geometry/oriented_box.hpp>
/// \file
/// Things in view that look like the target and are not it: so that it can be said what a tracker took instead.
namespace mnemon {

/// Where a look-alike is on one frame.
struct OtherRow {
  int frame = 0;     ///< Its number in the sequence.
  std::string name;  ///< The same on every frame that it is seen on.
  OrientedBox box;   ///< px.
  bool operator==(const OtherRow&) const = default;
};

/// Reads `others.csv`: columns frame, name, x, y, w, h and optionally angle and present. Rows with present = 0 are left
/// out.
/// \returns  By rising frame, rows of one frame in the file's order.
/// \throws DataError  naming file, line and column.
[[nodiscard]] std::vector<OtherRow> read_others(const std::filesystem::path& file);

/// The same from text; `file` is what messages call it.
[[nodiscard]] std::vector<OtherRow> parse_others(std::string_view text, const std::filesystem::path& file);

/// The text of `others.csv`; numbers read back exactly. A name with a comma, a quote or a line's end is quoted.
[[nodiscard]] std::string others_text(const std::vector<OtherRow>& others);

}  // namespace mnemon
