// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/sequence/truth.hpp>

namespace mnemon {

/// How a list of boxes says that the target is absent on a frame, besides a `present` column; any of several ways.
struct AbsentMarks {
  bool nan = false;       ///< By numbers that are missing or not finite.
  bool zero = false;      ///< By a width or height of 0.
  bool negative = false;  ///< By a width or height below 0, or numbers that are all below 0.
};

/// The ways that these words name: `nan`, `zero`, `negative`.
/// \throws CallError  for another word, naming the nearest.
[[nodiscard]] AbsentMarks absent_marks(std::span<const std::string> words);

/// What the columns of a plain-text list of boxes hold.
struct BoxListForm {
  /// Names in order: `x y w h` (top-left corner), `cx cy w h` (centre), `x1 y1 x2 y2` (two opposite corners) or
  /// `x1 y1 x2 y2 x3 y3 x4 y4` (a polygon, of which the smallest turned box around it is taken); with the first
  /// two perhaps `angle`, with any `frame`, `present`, `visible`; `-` for a column to leave out. Empty: the names of
  /// a header row, or `x y w h` where there is none.
  std::vector<std::string> columns;
  char delimiter = 0;       ///< 0: whichever of comma, semicolon, tab and blanks parts the first row.
  bool one_based = false;   ///< Pixels, and frames where they have a column, count from 1.
  AbsentMarks absent = {};  ///< What stands for a target that is not there.
};

/// \throws CallError  where the columns that are named make no box.
void check_columns(const BoxListForm& form);

/// Reads a list of boxes, a row a frame, from frame 0 on where no column says otherwise. Lines that are blank or
/// begin with `#` are passed over.
/// \param file  What messages call it.
/// \throws CallError  for columns that make no box; DataError  naming file, line and column.
[[nodiscard]] Truth parse_box_list(std::string_view text, const std::filesystem::path& file,
                                   const BoxListForm& form);

}  // namespace mnemon
