// SPDX-License-Identifier: MIT
#include <mnemon/sequence/truth.hpp>

#include <algorithm>
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
  Truth truth;
  for (const int row : rows_by_frame(table, columns.frame)) {
    TruthRow read;
    read.frame = table.index(row, columns.frame);
    read.box = columns.box(table, row);
    if (!table.is_empty(row, columns.present)) read.present = table.flag(row, *columns.present);
    if (!table.is_empty(row, visible)) read.visible = table.number(row, *visible);
    const bool proper = is_proper(read.box.box) && std::isfinite(read.box.angle_deg);
    if (!read.present) read.box = {};
    if (!read.present || proper) truth.rows.push_back(read);
  }
  return truth;
}

std::string truth_text(const Truth& truth) {
  std::string text = "frame,x,y,w,h,angle,present,visible\n";
  for (const TruthRow& row : truth.rows) {
    const std::string numbers = row.present ? box_text(row.box) : ",,,,";
    text += fmt::format("{},{},{},{}\n", row.frame, numbers, row.present ? 1 : 0, number_text(row.visible));
  }
  return text;
}

}  // namespace mnemon
