// SPDX-License-Identifier: MIT
#include <mnemon/report/table.hpp>

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include <mnemon/report/comparison.hpp>

namespace mnemon {
namespace {

struct Measure {
  const char* key;  // as scores are named everywhere
  const char* heading;
  const char* help;
  int decimals;
};

constexpr std::array<Measure, 10> kMeasures{{
    {"success_area", "success area",
     "Mean over thresholds of the share of frames whose overlap exceeds them.", 3},
    {"success_at_0.5", "overlap > 0.5", "Share of present frames with overlap above one half.", 3},
    {"hit_rate_20", "within 20 px", "Share of present frames with the centre at most 20 px off.", 3},
    {"median_centre_error", "centre error", "Median distance of the centres where the target was found, px.",
     1},
    {"found_share", "found", "Share of present frames on which the tracker claimed the target.", 3},
    {"absence_rate", "absence told", "Share of absent frames on which the tracker claimed nothing.", 3},
    {"losses", "losses", "Times the tracker was off the target for five present frames in a row.", 1},
    {"frames_per_s", "frames/s", "Steps over the sum of their times, on one core.", 0},
    {"step_ms_p50", "median ms", "Median time of a step.", 3},
    {"step_ms_p95", "95 % ms", "Time within which 95 % of the steps were done.", 3},
}};

bool is_speed(const Measure& measure) {
  return std::string_view(measure.key).find("_ms_") != std::string::npos ||
         std::string_view(measure.key) == "frames_per_s";
}

Figure figure_of(const RunScore& score, const Measure& measure) {
  for (const ScalarScore& scalar : scalar_scores(score))
    if (scalar.measure == measure.key) return scalar.value;
  return std::nullopt;
}

std::string cell(const Figure& figure, int decimals) {
  return figure ? fmt::format("{:.{}f}", *figure, decimals) : "-";
}

// Counts are whole where a row is one run; only means need their decimals.
int run_decimals(const Measure& measure) {
  return std::string_view(measure.key) == "losses" ? 0 : measure.decimals;
}

ReportTable empty_table() {
  ReportTable table;
  for (const Measure& measure : kMeasures) table.columns.push_back({measure.heading, measure.help});
  return table;
}

std::vector<const StudyRun*> whole_runs_of(const Study& study, int tracker) {
  std::vector<const StudyRun*> runs;
  for (const StudyRun& run : study.runs)
    if (run.tracker == tracker && run.failure.empty()) runs.push_back(&run);
  return runs;
}

RunScore pooled_speed(const Study& study, int tracker) {
  RunScore score;
  score.speed = summarise_speed(pooled_step_times(study, tracker), std::nullopt);
  return score;
}

KnownMean mean_over(const std::vector<const StudyRun*>& runs, const Measure& measure) {
  std::vector<Figure> figures;
  for (const StudyRun* run : runs) figures.push_back(figure_of(run->score, measure));
  return mean_of_known(figures);
}

Json mean_json(const Study& study, int tracker) {
  Json means;
  const auto runs = whole_runs_of(study, tracker);
  const RunScore pooled = pooled_speed(study, tracker);
  for (const Measure& measure : kMeasures) {
    const KnownMean mean = mean_over(runs, measure);
    const Figure value = is_speed(measure) ? figure_of(pooled, measure) : mean.mean;
    means[measure.key] = {{"mean", figure_json(value)}, {"sequences", mean.count}};
  }
  return means;
}

Json interval_json(const std::optional<Interval>& interval) {
  return interval ? Json{interval->low, interval->high} : Json();
}

Json comparisons_json(const Study& study) {
  Json json = Json::array();
  for (const Comparison& comparison : comparisons(study))
    json.push_back({{"better", study.trackers[comparison.better].label},
                    {"worse", study.trackers[comparison.worse].label},
                    {"sequences", comparison.difference.sequences},
                    {"difference", figure_json(comparison.difference.mean)},
                    {"interval", interval_json(comparison.difference.interval)},
                    {"p", figure_json(comparison.p)},
                    {"told_apart", comparison.difference.is_told_apart()}});
  return json;
}

}  // namespace

std::vector<double> pooled_step_times(const Study& study, int tracker) {
  std::vector<double> pooled;
  for (const StudyRun* run : whole_runs_of(study, tracker)) {
    if (!run->timed) continue;
    const auto times = step_times(run->trace, run->score.seed_frame);
    pooled.insert(pooled.end(), times.begin(), times.end());
  }
  return pooled;
}

ReportTable summary_table(const Study& study) {
  ReportTable table = empty_table();
  for (int tracker = 0; tracker < static_cast<int>(study.trackers.size()); ++tracker) {
    const auto runs = whole_runs_of(study, tracker);
    const RunScore pooled = pooled_speed(study, tracker);
    ReportTable::Row row{
        study.trackers[tracker].label, fmt::format("mean of {}", runs.size()), {}, "", tracker};
    for (const Measure& measure : kMeasures) {
      const KnownMean mean = mean_over(runs, measure);
      const bool over_fewer = !is_speed(measure) && mean.mean && mean.count < static_cast<int>(runs.size());
      const Figure value = is_speed(measure) ? figure_of(pooled, measure) : mean.mean;
      row.cells.push_back(cell(value, measure.decimals) +
                          (over_fewer ? fmt::format(" ({})", mean.count) : ""));
    }
    table.rows.push_back(std::move(row));
  }
  return table;
}

ReportTable run_table(const Study& study) {
  ReportTable table = empty_table();
  for (const StudyRun& run : study.runs) {
    ReportTable::Row row{
        study.trackers[run.tracker].label, study.sequences[run.sequence].name, {}, run.failure, run.tracker};
    if (run.failure.empty())
      for (const Measure& measure : kMeasures)
        row.cells.push_back(cell(figure_of(run.score, measure), run_decimals(measure)));
    table.rows.push_back(std::move(row));
  }
  return table;
}

std::string table_text(const ReportTable& table) {
  std::size_t tracker_width = std::string_view("tracker").size();
  std::size_t sequence_width = std::string_view("sequence").size();
  std::vector<std::size_t> widths;
  for (const auto& column : table.columns) widths.push_back(column.heading.size());
  for (const auto& row : table.rows) {
    tracker_width = std::max(tracker_width, row.tracker.size());
    sequence_width = std::max(sequence_width, row.sequence.size());
    for (std::size_t i = 0; i < row.cells.size(); ++i) widths[i] = std::max(widths[i], row.cells[i].size());
  }
  std::string text = fmt::format("{:<{}}  {:<{}}", "tracker", tracker_width, "sequence", sequence_width);
  for (std::size_t i = 0; i < widths.size(); ++i)
    text += fmt::format("  {:>{}}", table.columns[i].heading, widths[i]);
  text += "\n";
  for (const auto& row : table.rows) {
    text += fmt::format("{:<{}}  {:<{}}", row.tracker, tracker_width, row.sequence, sequence_width);
    for (std::size_t i = 0; i < row.cells.size(); ++i)
      text += fmt::format("  {:>{}}", row.cells[i], widths[i]);
    if (!row.note.empty()) text += "  failed: " + row.note;
    text += "\n";
  }
  return text;
}

Json study_json(const Study& study) {
  Json json;
  json["title"] = study.title;
  json["build"] = {{"version", study.build.version},
                   {"code", study.build.code},
                   {"compiler", study.build.compiler},
                   {"processor", study.build.processor},
                   {"cores", study.build.cores}};
  json["missing_runs"] = study.missing_runs;
  json["trackers"] = Json::array();
  for (int i = 0; i < static_cast<int>(study.trackers.size()); ++i)
    json["trackers"].push_back({{"label", study.trackers[i].label},
                                {"name", study.trackers[i].name},
                                {"params", Json::parse(study.trackers[i].params)},
                                {"over_sequences", mean_json(study, i)}});
  json["comparisons"] = comparisons_json(study);
  json["runs"] = Json::array();
  for (const StudyRun& run : study.runs)
    json["runs"].push_back({{"tracker", study.trackers[run.tracker].label},
                            {"sequence", study.sequences[run.sequence].name},
                            {"protocol", run.protocol},
                            {"timed", run.timed},
                            {"failure", run.failure.empty() ? Json() : Json(run.failure)},
                            {"score", run.failure.empty() ? score_json(run.score) : Json()}});
  return json;
}

}  // namespace mnemon
