// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <mnemon/base/rare.hpp>
#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/sequence/truth.hpp>

namespace mnemon {

/// What happened on a frame besides following.
/// `mark`: a person marked the target again, and the tracker started afresh from there.
enum class Event : std::uint8_t { none, seed, loss, reseed, skip, mark };

/// The word for an event; empty for none.
[[nodiscard]] std::string_view event_name(Event event) noexcept;

/// What a tracker answered for one frame.
struct TraceRow {
  TraceRow() = default;
  /// One frame's answer.
  TraceRow(int number, const OrientedBox& answer, double sureness, bool is_present,
           std::optional<double> took_ms = {}, Event what = Event::none, Rare<double> minor_axis = {},
           Rare<PositionMm> place = {})
      : frame(number),
        present(is_present),
        event(what),
        box(answer),
        confidence(sureness),
        step_ms(took_ms),
        minor_px(std::move(minor_axis)),
        position(std::move(place)) {}

  // The small ones side by side: scoring waits for memory, and so a row is a sixth smaller.
  int frame = 0;                   ///< Its number in the sequence.
  bool present = true;             ///< Whether the tracker claims the target.
  Event event = Event::none;       ///< What was done to the tracker there.
  OrientedBox box;                 ///< May hold anything where the target is not held to be present.
  double confidence = 1;           ///< In [0, 1].
  std::optional<double> step_ms;   ///< For a seed row, what seeding took.
  Rare<double> minor_px = {};      ///< The shorter axis of its ellipse, where that was measured.
  Rare<PositionMm> position = {};  ///< Of the target's middle, where it could be worked out.
  bool operator==(const TraceRow&) const = default;
};

/// The answers of one tracker over one sequence, by rising frame.
struct Trace {
  std::vector<TraceRow> rows;         ///< By rising frame.
  std::vector<FrameRuns> masks = {};  ///< By rising frame, of those frames that the tracker gave a mask for.

  /// The row of that frame, or null.
  [[nodiscard]] const TraceRow* find(int frame) const noexcept;
};

/// Reads a trace: columns frame, x, y, w, h and optionally angle, confidence, present, step_ms, event, minor_px,
/// and x_mm, y_mm, z_mm together, so that the results of any program can be read.
/// \throws DataError  naming file, line and column.
[[nodiscard]] Trace read_trace(const std::filesystem::path& file);

/// The same from text; `file` is what messages call it.
[[nodiscard]] Trace parse_trace(std::string_view text, const std::filesystem::path& file);

/// Boxes by frame as the answers of a program that says no more than these: sure of every box, and without times.
[[nodiscard]] Trace trace_of_boxes(const Truth& boxes);

/// Which optional columns a trace's text has.
struct TraceColumns {
  bool minor_px = false;  ///< Whether any row has it.
  bool position = false;  ///< Whether any row has it.
};

/// The header row of a trace's text, with its end of line.
[[nodiscard]] std::string trace_header(TraceColumns columns = {});

/// One row of a trace's text, with its end of line.
[[nodiscard]] std::string trace_row_text(const TraceRow& row, TraceColumns columns = {});

/// The text of a trace; numbers read back exactly, numbers that are not finite become empty fields.
[[nodiscard]] std::string trace_text(const Trace& trace);

}  // namespace mnemon
