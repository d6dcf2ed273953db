// SPDX-License-Identifier: MIT
#include <mnemon/report/study_text.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/plain_text.hpp>
#include <mnemon/report/comparison.hpp>
#include <mnemon/report/stress.hpp>
#include <mnemon/report/sweep_result.hpp>
#include <mnemon/report/table.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kLine = 100;       // columns of a terminal
constexpr std::size_t kMostSparks = 20;  // sequences a tracker's line has room for
constexpr std::size_t kBestOfATag = 3;

// A bar for a share, or a dot where there is none.
const char* spark(const Figure& share) {
  static constexpr std::array kBars{"▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"};
  if (!share) return "·";
  return kBars[static_cast<std::size_t>(std::clamp(static_cast<int>(*share * 8), 0, 7))];
}

// Success area sequence by sequence, or over several neighbours where there are many.
std::string sparks_of(const Results& results, int tracker, int protocol, std::size_t most) {
  const std::vector<Figure> values = results.values(tracker, protocol, "success_area");
  const std::size_t bars = std::min(most, values.size());
  std::string text;
  for (std::size_t bar = 0; bar < bars; ++bar) {
    const std::size_t from = bar * values.size() / bars;
    const std::size_t to = (bar + 1) * values.size() / bars;
    text += spark(mean_of_known(std::span(values).subspan(from, to - from)).mean);
  }
  return text;
}

// What a row's `over` says is said once where all say the same.
std::string shared_over(ReportTable& table) {
  if (table.rows.empty()) return "";
  const std::string over = table.rows.front().sequence;
  for (const auto& row : table.rows)
    if (row.sequence != over) return "";
  for (auto& row : table.rows) row.sequence.clear();
  table.second.clear();
  return over;
}

// As many columns as fit; those that do not are named.
std::string fitted_text(ReportTable table) {
  const std::string over = shared_over(table);
  std::string left_out;
  const auto width = [&] {
    const std::string text = table_text(table);
    std::size_t widest = 0;
    std::size_t length = 0;
    for (const char c : text.substr(0, text.size() - table.footnote.size())) {
      length = c == '\n' ? 0 : length + ((static_cast<unsigned char>(c) & 0xc0) != 0x80 ? 1 : 0);
      widest = std::max(widest, length);
    }
    return widest;
  };
  while (table.columns.size() > 1 && width() > kLine) {
    left_out = table.columns.back().heading + (left_out.empty() ? "" : ", ") + left_out;
    table.columns.pop_back();
    for (auto& row : table.rows)
      if (!row.cells.empty()) row.cells.pop_back();
  }
  std::string text = table_text(table);
  if (!over.empty() || !left_out.empty())
    text += wrapped_text(fmt::format("({}{}{})", over, over.empty() || left_out.empty() ? "" : "; ",
                                     left_out.empty() ? "" : "on the page also " + left_out),
                         kLine) +
            "\n";
  return text;
}

// The trackers by merit with what tells most, and a bar a sequence.
std::string standing_text(const Results& results, int protocol, const std::vector<Comparison>& pairs) {
  const ReportTable merit = merit_table(results, protocol, pairs);
  ReportTable table;
  table.footnote = merit.footnote;
  const bool has_sparks = results.sequences().size() <= kMostSparks;
  struct Shown {
    const char* heading;
    const char* here;  // shorter, to leave room for the bars
  };
  constexpr std::array kShown{Shown{"group", "group"},
                              Shown{"success area", "success area"},
                              Shown{"95 % over sequences", "95 %"},
                              Shown{"hold F", "hold F"},
                              Shown{"losses", "losses"},
                              Shown{"frames/s", "frames/s"}};
  std::vector<std::size_t> places;
  for (const Shown& shown : kShown) {
    const auto at = std::ranges::find(merit.columns, shown.heading, &ReportTable::Column::heading);
    if (at == merit.columns.end()) continue;
    places.push_back(static_cast<std::size_t>(at - merit.columns.begin()));
    table.columns.push_back({shown.here, ""});
  }
  if (has_sparks) table.columns.push_back({"by sequence", ""});
  for (const ReportTable::Row& full : merit.rows) {
    ReportTable::Row row{full.tracker, full.sequence, {}, full.note, full.tracker_place};
    for (const std::size_t place : places) row.cells.push_back(full.cells.empty() ? "-" : full.cells[place]);
    if (has_sparks) row.cells.push_back(sparks_of(results, full.tracker_place, protocol, kMostSparks));
    table.rows.push_back(std::move(row));
  }
  std::string text = fitted_text(std::move(table));
  if (has_sparks) {
    std::string names;
    for (const int sequence : results.sequences())
      names += (names.empty() ? "" : ", ") + results.study().sequences[sequence].name;
    return text + wrapped_text("Bars: success area on " + names + ".", kLine) + "\n";
  }
  text += "\nSuccess area sequence by sequence, in the plan's order:\n";
  for (const int tracker : results.by_merit(protocol))
    text += fmt::format("{:<18.18} {}\n", plain_line(results.study().trackers[tracker].label),
                        sparks_of(results, tracker, protocol, kLine - 20));
  return text;
}

// A line a tag: the best, and the worst that is no floor.
std::string tag_text(const Results& results, int protocol) {
  std::string text;
  for (const std::string& tag : results.tags()) {
    struct Entry {
      int tracker;
      MeanOver over;
    };
    std::vector<Entry> entries;
    for (const int tracker : results.by_merit(protocol)) {
      if (results.study().trackers[tracker].is_floor()) continue;
      const MeanOver over = mean_over(results.tagged_values(tracker, protocol, "success_area", tag));
      if (over.mean) entries.push_back({tracker, over});
    }
    if (entries.empty()) continue;
    std::ranges::stable_sort(entries, {}, [](const Entry& entry) { return -*entry.over.mean; });
    std::string line;
    for (std::size_t i = 0; i < std::min(kBestOfATag, entries.size()); ++i)
      line += fmt::format("{}{} {:.3f}", i == 0 ? "" : ", ",
                          results.study().trackers[entries[i].tracker].label, *entries[i].over.mean);
    const auto whole = [&](const std::string& said) {
      return plain_line(fmt::format("{:<14} ({:>2})  {}", tag, entries.front().over.known, said));
    };
    // The last one is said where there is room for it.
    if (entries.size() > kBestOfATag) {
      const std::string with_last =
          fmt::format("{}; last {} {:.3f}", line, results.study().trackers[entries.back().tracker].label,
                      *entries.back().over.mean);
      if (whole(with_last).size() <= kLine) line = with_last;
    }
    text += wrapped_text(whole(line), kLine) + "\n";
  }
  return text.empty() ? "" : "By difficulty (sequences): the best\n" + text + "\n";
}

// A line a set: the best of it.
std::string set_text(const Results& results, int protocol) {
  std::string text;
  for (const std::string& set : results.sets()) {
    std::string line;
    int known = 0;
    for (const int tracker : results.by_merit(protocol)) {
      const MeanOver over = mean_over(results.values_in_set(tracker, protocol, "success_area", set));
      if (!over.mean) continue;
      known = std::max(known, over.known);
      line += fmt::format("{}{} {:.3f}", line.empty() ? "" : ", ", results.study().trackers[tracker].label,
                          *over.mean);
    }
    text += wrapped_text(plain_line(fmt::format("{} ({} sequences): {}", set, known, line)), kLine) + "\n";
  }
  return text.empty() ? "" : "By set:\n" + text + "\n";
}

// Runs that failed, with their reasons: those that failed alike on several sequences together.
std::string failure_text(const Study& study) {
  std::vector<std::string> reasons;
  std::vector<std::string> runs;
  for (const StudyRun& run : study.runs) {
    if (run.failure.empty()) continue;
    const std::string reason = study.trackers[run.tracker].label + ": " + run.failure;
    const std::string where =
        fmt::format("{} under {}", study.sequences[run.sequence].name, study.protocols[run.protocol].name);
    const auto at = std::ranges::find(reasons, reason);
    if (at == reasons.end()) {
      reasons.push_back(reason);
      runs.push_back(where);
    } else {
      std::string& known = runs[static_cast<std::size_t>(at - reasons.begin())];
      if (known.find(where) == std::string::npos) known += ", " + where;
    }
  }
  std::string text;
  for (std::size_t i = 0; i < reasons.size(); ++i)
    text +=
        wrapped_text(fmt::format("failed: {} (on {})", plain_line(reasons[i]), plain_line(runs[i])), kLine) +
        "\n";
  return text.empty() ? "" : text + "\n";
}

std::string first_text(const Results& results, int protocol, Pairs pairs) {
  const std::vector<Comparison> compared = comparisons(results, protocol);
  std::string text;
  if (const std::string answer = answer_text(results, protocol, compared); !answer.empty())
    text += wrapped_text(answer, kLine) + "\n\n";
  text += standing_text(results, protocol, compared) + "\n" + set_text(results, protocol) +
          tag_text(results, protocol);
  if (pairs == Pairs::listed) {
    for (const Comparison& comparison : compared) text += verdict(results.study(), comparison) + "\n";
    text += "\n";
  }
  for (const SweepResult& sweep : sweep_results(results, protocol))
    text += fmt::format("Sweep of {}:\n{}{}.\nMost that the means differ by: {}.\n\n",
                        results.study().trackers[sweep.base].label,
                        table_text(effect_table(sweep, results.study())), choice_text(sweep, results.study()),
                        sensitivity_text(sweep));
  return text;
}

}  // namespace

std::string study_text(const Results& results, Pairs pairs) {
  const Study& study = results.study();
  std::string text;
  for (const int protocol : results.protocols()) {
    const bool is_first = protocol == results.protocols().front();
    if (is_first) {
      text += first_text(results, protocol, pairs);
      continue;
    }
    text += fmt::format("Under {}:\n{}\n", study.protocols[protocol].name,
                        fitted_text(summary_table(results, protocol)));
  }
  for (const StressResult& result : stress_results(study))
    text += fmt::format("{} under growing {}:\n{}\n", result.scene, result.knob,
                        fitted_text(stress_table(result, study)));
  text += failure_text(study);
  if (study.missing_runs > 0)
    text += fmt::format("{} planned runs are not in this study yet: run the plan again to make them.\n\n",
                        study.missing_runs);
  return text;
}

}  // namespace mnemon
