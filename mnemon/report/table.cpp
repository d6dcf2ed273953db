// SPDX-License-Identifier: MIT
#include <mnemon/report/table.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

#include <fmt/format.h>

#include <mnemon/base/plain_text.hpp>

namespace mnemon {
namespace {

// How the runs and the sequences behind a cell become one figure.
enum class Gather { mean, spread, least, pooled_speed };

struct Column {
  const char* name;     // as protocols ask for it
  const char* measure;  // as scores are named everywhere
  const char* heading;
  const char* help;
  int decimals;
  Gather gather = Gather::mean;
};

constexpr Column measured(const char* measure, const char* heading, const char* help, int decimals,
                          Gather gather = Gather::mean) {
  return {measure, measure, heading, help, decimals, gather};
}

// Every column that a protocol's table may have.
constexpr std::array kColumns{
    measured("success_area", "success area",
             "Mean over thresholds of the share of frames whose overlap exceeds them.", 3),
    Column{"spread", "success_area", "spread",
           "Standard deviation of the success area over the runs on a sequence.", 3, Gather::spread},
    Column{"least", "success_area", "worst run", "The least success area of the runs on a sequence.", 3,
           Gather::least},
    measured("success_at_0.5", "overlap > 0.5", "Share of present frames with overlap above one half.", 3),
    measured("hit_rate_20", "within 20 px", "Share of present frames with the centre at most 20 px off.", 3),
    measured("median_centre_error", "centre error",
             "Median distance of the centres where the target was found, px.", 1),
    measured("hold_f", "hold F",
             "How well claims that the target is there go with the truth: harmonic mean of precision and "
             "recall.",
             3),
    measured("absence_rate", "absence told", "Share of absent frames on which the tracker claimed nothing.",
             3),
    measured("losses", "losses", "Times the tracker was off the target for five present frames in a row.", 1),
    measured("recovered_share", "recovered", "Share of the losses after which it held the target again.", 2),
    measured("returned_share", "returned",
             "Share of the target's returns after which it was held within 30 present frames.", 2),
    measured("frames_per_s", "frames/s", "Steps over the sum of their times, on one core.", 0,
             Gather::pooled_speed),
    measured("step_ms_p50", "median ms", "Median time of a step.", 3, Gather::pooled_speed),
    measured("step_ms_p95", "95 % ms", "Time within which 95 % of the steps were done.", 3,
             Gather::pooled_speed),
    measured("restarts_per_1000", "restarts / 1000", "Fresh starts per 1000 frames after the seed.", 2),
    measured("held_overlap", "held overlap",
             "Mean overlap while the target was held: without the frames that led to losses.", 3),
    measured("median_hold", "median hold",
             "Frames after which one half of the starts had been lost, where that many were (Kaplan-Meier).",
             0),
    measured("skipped_share", "skipped", "Share of the frames that the tracker was too late for.", 3),
    measured("highest_rate_hz", "highest Hz",
             "The highest rate at which the live success area is at least 0.95 of that with time for every "
             "frame.",
             0),
};

std::vector<Column> columns_of(const Protocol& protocol) {
  std::vector<Column> columns;
  for (const std::string& name : protocol.entry().columns)
    columns.push_back(
        *std::ranges::find(kColumns, name, [](const Column& column) { return std::string(column.name); }));
  return columns;
}

Figure cell_of(const Results& results, const Column& column, int tracker, int sequence, int protocol) {
  switch (column.gather) {
    case Gather::spread:
      return results.spread(tracker, sequence, protocol, column.measure);
    case Gather::least:
      return results.least(tracker, sequence, protocol, column.measure);
    case Gather::mean:
    case Gather::pooled_speed:
      break;
  }
  return results.value(tracker, sequence, protocol, column.measure);
}

ReportTable empty_table(const Results& results, int protocol) {
  ReportTable table;
  for (const Column& column : columns_of(results.study().protocols[protocol]))
    table.columns.push_back({column.heading, column.help});
  return table;
}

// Counts are whole where a row is one run; only means need their decimals.
int decimals_of(const Column& column, std::size_t runs) {
  return std::string_view(column.measure) == "losses" && runs == 1 ? 0 : column.decimals;
}

void add_footnote(ReportTable& table, const std::string& text) {
  if (table.footnote.find(text) == std::string::npos)
    table.footnote += (table.footnote.empty() ? "" : " ") + text;
}

// What a process says that its steps take, over all runs that it said so of, ms.
Figure told_ms(const Results& results, int tracker, int protocol) {
  std::vector<Figure> told;
  for (const int sequence : results.sequences())
    for (const StudyRun* run : results.runs(tracker, sequence, protocol)) told.push_back(run->told_ms);
  return mean_over(told).mean;
}

// The times of a trace from elsewhere and of a process are marked as such.
std::string speed_text(const Results& results, int tracker, int protocol, const Figure& figure,
                       const Column& column, ReportTable& table) {
  const StudyTracker& known = results.study().trackers[tracker];
  if (known.is_floor()) return "-";  // it does nothing, and that quickly
  const std::string text = cell_text(figure, column.decimals);
  if (!figure) return text;
  if (known.is_from_elsewhere()) {
    add_footnote(table, "* Times as the traces from elsewhere give them; not measured here.");
    return text + "*";
  }
  if (!known.is_process()) return text;
  add_footnote(table, "\u2020 Of a process: times are around each call, its messages included.");
  if (const Figure told = told_ms(results, tracker, protocol))
    add_footnote(table,
                 fmt::format("By its own count a step of {} takes {:.3f} ms (mean).", known.label, *told));
  return text + "\u2020";
}

std::string failures_of(const std::vector<const StudyRun*>& runs) {
  std::size_t failed = 0;
  std::string why;
  for (const StudyRun* run : runs) {
    if (run->failure.empty()) continue;
    if (failed++ == 0) why = run->failure;
  }
  if (failed == 0 || runs.size() == 1) return why;
  return fmt::format("{} of {} runs: {}", failed, runs.size(), why);
}

// Columns of a terminal: bytes but for those that go on with a character.
std::size_t width_of(const std::string& text) {
  return static_cast<std::size_t>(
      std::ranges::count_if(text, [](char c) { return (static_cast<unsigned char>(c) & 0xc0) != 0x80; }));
}

std::string blanks(std::size_t count) { return std::string(count, ' '); }

// A label may hold anything, and so may the reason of a failure.
ReportTable in_single_lines(ReportTable table) {
  for (ReportTable::Row& row : table.rows)
    for (std::string* text : {&row.tracker, &row.sequence, &row.note}) *text = plain_line(*text);
  for (auto& column : table.columns) column.heading = plain_line(column.heading);
  return table;
}

}  // namespace

std::string cell_text(const Figure& figure, int decimals) {
  return figure ? fmt::format("{:.{}f}", *figure, decimals) : "-";
}

std::string interval_text(const std::optional<Interval>& interval) {
  if (!interval || !std::isfinite(interval->low) || !std::isfinite(interval->high)) return "-";
  return fmt::format("{:.3f} to {:.3f}", interval->low, interval->high);
}

ReportTable summary_table(const Results& results, int protocol) {
  ReportTable table = empty_table(results, protocol);
  if (results.runs_timed_elsewhere() > 0)
    add_footnote(table,
                 fmt::format("Times are those on {}; {} runs timed on other processors are left out of them.",
                             results.timing_processor(), results.runs_timed_elsewhere()));
  for (const int tracker : results.by_merit(protocol)) {
    int sequences = 0;
    std::string seen;
    for (const int sequence : results.sequences())
      if (const std::string& name = results.study().sequences[sequence].name;
          results.study().trackers[tracker].is_trained_on(name))
        seen += (seen.empty() ? "" : ", ") + name;
    if (!seen.empty())
      add_footnote(table, fmt::format("\u2021 {} was trained on {}: compare it on other sequences.",
                                      results.study().trackers[tracker].label, seen));
    for (const int sequence : results.sequences())
      sequences += std::ranges::any_of(results.runs(tracker, sequence, protocol),
                                       [](const StudyRun* run) { return run->failure.empty(); })
                       ? 1
                       : 0;
    RunScore pooled;
    pooled.speed = results.pooled_speed(tracker, protocol);
    ReportTable::Row row{results.study().trackers[tracker].label,
                         fmt::format("mean of {}{}", sequences, seen.empty() ? "" : "\u2021"),
                         {},
                         "",
                         tracker};
    for (const Column& column : columns_of(results.study().protocols[protocol])) {
      if (column.gather == Gather::pooled_speed) {
        row.cells.push_back(
            speed_text(results, tracker, protocol, scalar_measure(column.measure).of(pooled), column, table));
        continue;
      }
      std::vector<Figure> figures;
      for (const int sequence : results.sequences())
        figures.push_back(cell_of(results, column, tracker, sequence, protocol));
      const MeanOver over = mean_over(figures);
      row.cells.push_back(cell_text(over.mean, column.decimals) +
                          (over.mean && over.known < sequences ? fmt::format(" ({})", over.known) : ""));
    }
    table.rows.push_back(std::move(row));
  }
  return table;
}

ReportTable visit_sequence_rows(const Results& results, int protocol,
                                const std::function<void(const ReportTable::Row&)>& use) {
  ReportTable table = empty_table(results, protocol);
  for (const int tracker : results.by_merit(protocol))
    for (const int sequence : results.sequences()) {
      const auto& runs = results.runs(tracker, sequence, protocol);
      if (runs.empty()) continue;
      const std::string& name = results.study().sequences[sequence].name;
      const bool is_seen = results.study().trackers[tracker].is_trained_on(name);
      if (is_seen)
        add_footnote(
            table,
            "\u2021 The tracker was trained on this sequence: what it does there says little about others.");
      ReportTable::Row row{results.study().trackers[tracker].label,
                           name + (is_seen ? "\u2021" : ""),
                           {},
                           failures_of(runs),
                           tracker};
      const bool is_whole =
          std::ranges::any_of(runs, [](const StudyRun* run) { return run->failure.empty(); });
      if (is_whole)
        for (const Column& column : columns_of(results.study().protocols[protocol])) {
          const Figure figure = cell_of(results, column, tracker, sequence, protocol);
          row.cells.push_back(column.gather == Gather::pooled_speed
                                  ? speed_text(results, tracker, protocol, figure, column, table)
                                  : cell_text(figure, decimals_of(column, runs.size())));
        }
      use(row);
    }
  return table;
}

ReportTable tag_table(const Results& results, int protocol) {
  ReportTable table;
  table.first = "tag";
  if (results.tags().empty()) return table;
  for (const int tracker : results.by_merit(protocol))
    table.columns.push_back(
        {results.study().trackers[tracker].label, "Mean success area where the tag holds."});
  for (const std::string& tag : results.tags()) {
    ReportTable::Row row{tag, "", {}, "", -1};
    int most = 0;
    for (const int tracker : results.by_merit(protocol)) {
      const MeanOver over = mean_over(results.tagged_values(tracker, protocol, "success_area", tag));
      most = std::max(most, over.known);
      row.cells.push_back(cell_text(over.mean, 3));
    }
    row.sequence = fmt::format("mean of {}", most);
    table.rows.push_back(std::move(row));
  }
  return table;
}

std::string table_text(const ReportTable& shown) {
  const ReportTable table = in_single_lines(shown);
  const bool has_second =
      !table.second.empty() ||
      std::ranges::any_of(table.rows, [](const ReportTable::Row& row) { return !row.sequence.empty(); });
  std::size_t tracker_width = width_of(table.first);
  std::size_t sequence_width = width_of(table.second);
  std::vector<std::size_t> widths;
  for (const auto& column : table.columns) widths.push_back(width_of(column.heading));
  for (const auto& row : table.rows) {
    tracker_width = std::max(tracker_width, width_of(row.tracker));
    sequence_width = std::max(sequence_width, width_of(row.sequence));
    for (std::size_t i = 0; i < row.cells.size(); ++i)
      widths[i] = std::max(widths[i], width_of(row.cells[i]));
  }
  const auto begin = [&](const std::string& first, const std::string& second) {
    std::string text = first + blanks(tracker_width - width_of(first));
    if (has_second) text += "  " + second + blanks(sequence_width - width_of(second));
    return text;
  };
  std::string text = begin(table.first, table.second);
  for (std::size_t i = 0; i < widths.size(); ++i)
    text += "  " + blanks(widths[i] - width_of(table.columns[i].heading)) + table.columns[i].heading;
  text += "\n";
  for (const auto& row : table.rows) {
    text += begin(row.tracker, row.sequence);
    for (std::size_t i = 0; i < row.cells.size(); ++i)
      text += "  " + blanks(widths[i] - width_of(row.cells[i])) + row.cells[i];
    if (!row.note.empty()) text += "  failed: " + row.note;
    text += "\n";
  }
  if (!table.footnote.empty()) text += wrapped_text(table.footnote, 100) + "\n";
  return text;
}

}  // namespace mnemon
