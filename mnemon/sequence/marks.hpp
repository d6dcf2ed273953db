// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/geometry/oriented_box.hpp>

namespace mnemon {

/// What somebody says of the target on one frame.
struct Mark {
  int frame = 0;              ///< Its number in the sequence.
  OrientedBox box;            ///< Meaningless where the target is not present.
  std::string region;         ///< The marked region in JSON where it is no box; empty for none.
  bool present = true;        ///< False where somebody says that the target is not there.
  std::string by = "person";  ///< `person`, `tracker` or `between`, where it was interpolated.
  bool operator==(const Mark&) const = default;
};

/// Reads `marks.csv`: columns frame, x, y, w, h and optionally angle, region, present and by.
/// \returns  By rising frame.
/// \throws DataError  naming file, line and column: where a frame is there twice, a present one has no proper box, or there is no mark.
[[nodiscard]] std::vector<Mark> read_marks(const std::filesystem::path& file);

/// The same from text; `file` is what messages call it.
[[nodiscard]] std::vector<Mark> parse_marks(std::string_view text, const std::filesystem::path& file);

/// The text of `marks.csv`; numbers read back exactly.
[[nodiscard]] std::string marks_text(const std::vector<Mark>& marks);

}  // namespace mnemon
