// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <string>
#include <vector>

#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/sequence/csv.hpp>
/// \file
/// What the text forms of truth and traces share: the columns frame, x, y, w, h and optionally angle and
/// present.
namespace mnemon {

/// The places of those columns in a table.
/// \throws DataError  from the constructor where one is missing.
struct BoxColumns {
  /// Finds them by their names.
  explicit BoxColumns(const CsvTable& table);

  /// A row's box; numbers of empty fields are not finite, an empty angle is 0.
  [[nodiscard]] OrientedBox box(const CsvTable& table, int row) const;

  int frame;                   ///< Place of the column in the table.
  int x;                       ///< Likewise.
  int y;                       ///< Likewise.
  int w;                       ///< Likewise.
  int h;                       ///< Likewise.
  std::optional<int> angle;    ///< Left out: there is none.
  std::optional<int> present;  ///< Likewise.
};

/// The rows in rising order of their frame.
/// \throws DataError  where a frame is there twice.
[[nodiscard]] std::vector<int> rows_by_frame(const CsvTable& table, int frame_column);

/// The fields x to angle, as both forms write them.
[[nodiscard]] std::string box_text(const OrientedBox& oriented);

}  // namespace mnemon
