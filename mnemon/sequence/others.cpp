// SPDX-License-Identifier: MIT
#include <mnemon/sequence/others.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/box_columns.hpp>
#include <mnemon/sequence/csv.hpp>

namespace mnemon {
std::vector<OtherRow> read_others(const std::filesystem::path& file) {
  return parse_others(read_file(file), file);
}

std::vector<OtherRow> parse_others(std::string_view text, const std::filesystem::path& file) {
  const CsvTable table(text, file);
  const BoxColumns columns(table);
  const int name = table.needed_column("name");
  std::vector<OtherRow> others;
  for (int row = 0; row < table.row_count(); ++row) {
    const int frame = table.index(row, columns.frame);
    if (!table.is_empty(row, columns.present) && !table.flag(row, *columns.present)) continue;
    const OrientedBox box = columns.box(table, row);
    if (!is_proper(box.box) || !std::isfinite(box.angle_deg))
      throw DataError(table.place(row, columns.x),
                      "a thing that is present needs a box with width and height above 0; give one, or "
                      "present = 0");
    if (table.is_empty(row, name))
      throw DataError(table.place(row, name), "a thing needs a name, the same on every frame");
    others.push_back({frame, std::string(table.text(row, name)), box});
  }
  std::ranges::stable_sort(others, {}, &OtherRow::frame);
  return others;
}

std::string others_text(const std::vector<OtherRow>& others) {
  std::string text = "frame,name,x,y,w,h,angle,present\n";
  for (const OtherRow& row : others)
    text += fmt::format("{},{},{},1\n", row.frame, csv_field(row.name), box_text(row.box));
  return text;
}

}  // namespace mnemon
