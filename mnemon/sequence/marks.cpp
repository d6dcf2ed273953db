// SPDX-License-Identifier: MIT
#include <mnemon/sequence/marks.hpp>

#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/box_columns.hpp>
#include <mnemon/sequence/csv.hpp>

namespace mnemon {

std::vector<Mark> read_marks(const std::filesystem::path& file) { return parse_marks(read_file(file), file); }

std::vector<Mark> parse_marks(std::string_view text, const std::filesystem::path& file) {
  const CsvTable table(text, file);
  const BoxColumns columns(table);
  const auto region = table.column("region");
  const auto by = table.column("by");
  std::vector<Mark> marks;
  for (const int row : rows_by_frame(table, columns.frame)) {
    Mark mark;
    mark.frame = table.index(row, columns.frame);
    mark.box = columns.box(table, row);
    if (!table.is_empty(row, columns.present)) mark.present = table.flag(row, *columns.present);
    if (!table.is_empty(row, region)) mark.region = table.text(row, *region);
    if (!table.is_empty(row, by)) mark.by = table.text(row, *by);
    if (mark.by != "person" && mark.by != "tracker" && mark.by != "between")
      throw DataError(table.place(row, *by),
                      fmt::format("'{}' is not 'person', 'tracker' or 'between'", mark.by));
    if (mark.present && (!is_proper(mark.box.box) || !std::isfinite(mark.box.angle_deg)))
      throw DataError(
          table.place(row, columns.x),
          "a target that is present needs a box with width and height above 0; give one, or present = 0");
    if (!mark.present) mark.box = {};
    marks.push_back(mark);
  }
  if (marks.empty()) throw DataError({file}, "has no mark");
  return marks;
}

std::string marks_text(const std::vector<Mark>& marks) {
  std::string text = "frame,x,y,w,h,angle,region,present,by\n";
  for (const Mark& mark : marks)
    text += fmt::format("{},{},{},{},{}\n", mark.frame, mark.present ? box_text(mark.box) : ",,,,",
                        csv_field(mark.region), mark.present ? 1 : 0, mark.by);
  return text;
}

}  // namespace mnemon
