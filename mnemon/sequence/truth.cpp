// SPDX-License-Identifier: MIT
#include <mnemon/sequence/truth.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/box_columns.hpp>
#include <mnemon/sequence/csv.hpp>

namespace mnemon {

const TruthRow* Truth::find(int frame) const noexcept {
  const auto at = std::ranges::lower_bound(rows, frame, {}, &TruthRow::frame);
  return at != rows.end() && at->frame == frame ? &*at : nullptr;
}

const TruthRow* Truth::first_present() const noexcept {
  const auto at = std::ranges::find(rows, true, &TruthRow::present);
  return at == rows.end() ? nullptr : &*at;
}

Truth read_truth(const std::filesystem::path& file) { return parse_truth(read_file(file), file); }

Truth parse_truth(std::string_view text, const std::filesystem::path& file) {
  const CsvTable table(text, file);
  const BoxColumns columns(table);
  const auto visible = table.column("visible");
  const std::array places{table.column("x_mm"), table.column("y_mm"), table.column("z_mm")};
  Truth truth;
  for (const int row : rows_by_frame(table, columns.frame)) {
    TruthRow read;
    read.frame = table.index(row, columns.frame);
    read.box = columns.box(table, row);
    if (!table.is_empty(row, columns.present)) read.present = table.flag(row, *columns.present);
    if (!table.is_empty(row, visible)) read.visible = table.number(row, *visible);
    if (std::ranges::none_of(places, [&](const auto& column) { return table.is_empty(row, column); }))
      read.position = PositionMm{table.number(row, *places[0]), table.number(row, *places[1]),
                                 table.number(row, *places[2])};
    const bool proper = is_proper(read.box.box) && std::isfinite(read.box.angle_deg);
    if (!read.present) read.box = {};
    if (!read.present || proper) truth.rows.push_back(read);
  }
  return truth;
}

std::string truth_text(const Truth& truth) {
  const bool has_positions =
      std::ranges::any_of(truth.rows, [](const TruthRow& row) { return row.position.has_value(); });
  std::string text = "frame,x,y,w,h,angle,present,visible";
  text += has_positions ? ",x_mm,y_mm,z_mm\n" : "\n";
  for (const TruthRow& row : truth.rows) {
    const std::string numbers = row.present ? box_text(row.box) : ",,,,";
    text += fmt::format("{},{},{},{}", row.frame, numbers, row.present ? 1 : 0, number_text(row.visible));
    if (row.position)
      text += fmt::format(",{},{},{}", number_text(row.position->x), number_text(row.position->y),
                          number_text(row.position->z));
    else if (has_positions)
      text += ",,,";
    text += '\n';
  }
  return text;
}

}  // namespace mnemon
