// SPDX-License-Identifier: MIT
#include <mnemon/sequence/times.hpp>

#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/csv.hpp>

namespace mnemon {

std::vector<double> read_times(const std::filesystem::path& file) {
  return parse_times(read_file(file), file);
}

std::vector<double> parse_times(std::string_view text, const std::filesystem::path& file) {
  const CsvTable table(text, file);
  const int frame = table.needed_column("frame");
  const int time = table.needed_column("time_s");
  std::vector<double> stamps;
  for (int row = 0; row < table.row_count(); ++row) {
    if (table.index(row, frame) != row)
      throw DataError(table.place(row, frame),
                      fmt::format("is to be {}: times are of every frame from 0 on, in order", row));
    const double stamp = table.number(row, time);
    if (!std::isfinite(stamp) || (row > 0 && stamp <= stamps.back()))
      throw DataError(table.place(row, time),
                      "is to be a later time than that of the frame before, in seconds");
    stamps.push_back(stamp);
  }
  if (stamps.empty()) throw DataError({file}, "has no times");
  // Clocks that count from long ago are common.
  const double first = stamps.front();
  for (double& stamp : stamps) stamp -= first;
  return stamps;
}

std::string times_text(const std::vector<double>& times_s) {
  std::string text = "frame,time_s\n";
  for (std::size_t i = 0; i < times_s.size(); ++i) text += fmt::format("{},{}\n", i, number_text(times_s[i]));
  return text;
}

}  // namespace mnemon
