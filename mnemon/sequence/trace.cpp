// SPDX-License-Identifier: MIT
#include <mnemon/sequence/trace.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/box_columns.hpp>
#include <mnemon/sequence/csv.hpp>

namespace mnemon {
namespace {

constexpr std::array<std::string_view, 6> kEvents{"", "seed", "loss", "reseed", "skip", "mark"};

Event parse_event(const CsvTable& table, int row, int column) {
  const auto at = std::ranges::find(kEvents, table.text(row, column));
  if (at != kEvents.end()) return static_cast<Event>(at - kEvents.begin());
  throw DataError(table.place(row, column),
                  fmt::format("'{}' is no event; an event is seed, loss, reseed, skip, mark or "
                              "empty",
                              table.text(row, column)));
}

// What the optional columns of a trace say.
struct Extras {
  explicit Extras(const CsvTable& table)
      : confidence(table.column("confidence")),
        step_ms(table.column("step_ms")),
        event(table.column("event")),
        minor_px(table.column("minor_px")),
        position{table.column("x_mm"), table.column("y_mm"), table.column("z_mm")} {}

  void read_into(const CsvTable& table, int row, TraceRow& read) const {
    if (!table.is_empty(row, confidence)) read.confidence = table.number(row, *confidence);
    if (!table.is_empty(row, step_ms)) read.step_ms = table.number(row, *step_ms);
    if (event) read.event = parse_event(table, row, *event);
    const auto has = [&](const std::optional<int>& column) { return !table.is_empty(row, column); };
    if (has(minor_px)) read.minor_px = table.number(row, *minor_px);
    if (std::ranges::all_of(position, has))
      read.position = PositionMm{table.number(row, *position[0]), table.number(row, *position[1]),
                                 table.number(row, *position[2])};
  }

  std::optional<int> confidence;
  std::optional<int> step_ms;
  std::optional<int> event;
  std::optional<int> minor_px;
  std::array<std::optional<int>, 3> position;
};

bool is_finite(const OrientedBox& oriented) {
  const Box& box = oriented.box;
  return std::isfinite(box.x) && std::isfinite(box.y) && std::isfinite(box.w) && std::isfinite(box.h) &&
         std::isfinite(oriented.angle_deg);
}

}  // namespace

std::string_view event_name(Event event) noexcept { return kEvents[static_cast<std::size_t>(event)]; }

const TraceRow* Trace::find(int frame) const noexcept {
  const auto at = std::ranges::lower_bound(rows, frame, {}, &TraceRow::frame);
  return at != rows.end() && at->frame == frame ? &*at : nullptr;
}

Trace read_trace(const std::filesystem::path& file) { return parse_trace(read_file(file), file); }

Trace parse_trace(std::string_view text, const std::filesystem::path& file) {
  const CsvTable table(text, file);
  const BoxColumns columns(table);
  const Extras extras(table);
  Trace trace;
  bool seeded = false;
  for (const int row : rows_by_frame(table, columns.frame)) {
    TraceRow read;
    read.frame = table.index(row, columns.frame);
    read.box = columns.box(table, row);
    if (!table.is_empty(row, columns.present)) read.present = table.flag(row, *columns.present);
    extras.read_into(table, row, read);
    if (read.event == Event::seed && seeded)
      throw DataError(table.place(row, *extras.event), "a second seed row; a trace has one");
    seeded = seeded || read.event == Event::seed;
    trace.rows.push_back(read);
  }
  return trace;
}

Trace trace_of_boxes(const Truth& boxes) {
  Trace trace;
  for (const TruthRow& row : boxes.rows) trace.rows.push_back({row.frame, row.box, 1, row.present});
  return trace;
}

std::string trace_header(TraceColumns columns) {
  return fmt::format("frame,x,y,w,h,angle,confidence,present,step_ms,event{}{}\n",
                     columns.minor_px ? ",minor_px" : "", columns.position ? ",x_mm,y_mm,z_mm" : "");
}

std::string trace_row_text(const TraceRow& row, TraceColumns columns) {
  std::string text =
      fmt::format("{},{},{},{},{},{}", row.frame, is_finite(row.box) ? box_text(row.box) : ",,,,",
                  std::isfinite(row.confidence) ? number_text(row.confidence) : "", row.present ? 1 : 0,
                  row.step_ms ? number_text(*row.step_ms) : "", event_name(row.event));
  if (columns.minor_px) text += fmt::format(",{}", row.minor_px ? number_text(*row.minor_px) : "");
  if (columns.position)
    text += row.position ? fmt::format(",{},{},{}", number_text(row.position->x),
                                       number_text(row.position->y), number_text(row.position->z))
                         : ",,,";
  return text + "\n";
}

std::string trace_text(const Trace& trace) {
  const TraceColumns columns{
      std::ranges::any_of(trace.rows, [](const TraceRow& row) { return row.minor_px.has_value(); }),
      std::ranges::any_of(trace.rows, [](const TraceRow& row) { return row.position.has_value(); })};
  std::string text = trace_header(columns);
  for (const TraceRow& row : trace.rows) text += trace_row_text(row, columns);
  return text;
}

}  // namespace mnemon
