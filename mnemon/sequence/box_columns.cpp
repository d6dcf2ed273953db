// SPDX-License-Identifier: MIT
#include <mnemon/sequence/box_columns.hpp>

#include <algorithm>
#include <cmath>
#include <numeric>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>

namespace mnemon {

BoxColumns::BoxColumns(const CsvTable& table)
    : frame(table.needed_column("frame")),
      x(table.needed_column("x")),
      y(table.needed_column("y")),
      w(table.needed_column("w")),
      h(table.needed_column("h")),
      angle(table.column("angle")),
      present(table.column("present")) {}

OrientedBox BoxColumns::box(const CsvTable& table, int row) const {
  const auto value = [&](int column) {
    return table.is_empty(row, column) ? std::nan("") : table.number(row, column);
  };
  return {{value(x), value(y), value(w), value(h)},
          table.is_empty(row, angle) ? 0.0 : table.number(row, *angle)};
}

std::vector<int> rows_by_frame(const CsvTable& table, int frame_column) {
  std::vector<int> frame_of(table.row_count());
  for (int row = 0; row < table.row_count(); ++row) frame_of[row] = table.index(row, frame_column);
  std::vector<int> rows(table.row_count());
  std::iota(rows.begin(), rows.end(), 0);
  std::ranges::stable_sort(rows, {}, [&](int row) { return frame_of[row]; });
  for (std::size_t i = 1; i < rows.size(); ++i)
    if (frame_of[rows[i]] == frame_of[rows[i - 1]])
      throw DataError(table.place(rows[i], frame_column),
                      fmt::format("frame {} is there twice; it stands in line {} too", frame_of[rows[i]],
                                  table.place(rows[i - 1], frame_column).line));
  return rows;
}

std::string box_text(const OrientedBox& oriented) {
  const Box& box = oriented.box;
  return fmt::format("{},{},{},{},{}", number_text(box.x), number_text(box.y), number_text(box.w),
                     number_text(box.h), number_text(oriented.angle_deg));
}

}  // namespace mnemon
