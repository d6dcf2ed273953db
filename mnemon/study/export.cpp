// SPDX-License-Identifier: MIT
#include <mnemon/study/export.hpp>

#include <cctype>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/score_record.hpp>

namespace mnemon {
namespace {

std::string csv_field(const std::string& text) {
  if (text.find_first_of(",\"\n#") == std::string::npos) return text;
  std::string quoted = "\"";
  for (const char c : text) quoted += c == '"' ? "\"\"" : std::string(1, c);
  return quoted + "\"";
}

std::string figure_text(const Figure& figure) { return figure ? number_text(*figure) : ""; }

std::string run_fields(const Study& study, const StudyRun& run) {
  return csv_field(study.trackers[run.tracker].label) + "," + csv_field(study.sequences[run.sequence].name) +
         "," + csv_field(study.protocols[run.protocol].name) + fmt::format(",{},{}", run.start, run.repeat);
}

// As a plan's `traces` finds it again.
std::string trace_name(const Study& study, const StudyRun& run) {
  const std::string& protocol = study.protocols[run.protocol].name;
  const bool has_starts = protocol == "starts" || protocol == "nudges";
  return fmt::format("{}.{}{}{}.csv", file_name_of(study.sequences[run.sequence].name), protocol,
                     has_starts ? fmt::format(".{}", run.start) : "",
                     run.repeat > 0 ? fmt::format(".repeat{}", run.repeat) : "");
}

std::string scores_text(const Study& study) {
  std::string text = "tracker,sequence,protocol,start,repeat,failure";
  for (const ScalarMeasure& measure : scalar_measures()) text += "," + std::string(measure.name);
  text += ",highest_rate_hz\n";
  for (const StudyRun& run : study.runs) {
    text += run_fields(study, run) + "," + csv_field(run.failure);
    for (const ScalarMeasure& measure : scalar_measures())
      text += "," + figure_text(run.failure.empty() ? measure.of(run.score) : std::nullopt);
    text += "," + figure_text(run.highest_rate_hz) + "\n";
  }
  return text;
}

void add_curve(const std::string& run, const char* name, const std::vector<double>& curve, double per_step,
               std::string& text) {
  for (std::size_t i = 0; i < curve.size(); ++i)
    text += fmt::format("{},{},{},{}\n", run, name, number_text(static_cast<double>(i) / per_step),
                        number_text(curve[i]));
}

std::string curves_text(const Study& study) {
  std::string text = "tracker,sequence,protocol,start,repeat,curve,threshold,share\n";
  for (const StudyRun& run : study.runs) {
    const std::string fields = run_fields(study, run);
    add_curve(fields, "success", run.score.success_curve, 100, text);
    add_curve(fields, "centre", run.score.centre_curve, 1, text);
    add_curve(fields, "relative_centre", run.score.relative_centre_curve, 200, text);
  }
  return text;
}

}  // namespace

std::string file_name_of(const std::string& text) {
  std::string name = text;
  for (char& c : name)
    if (std::isalnum(static_cast<unsigned char>(c)) == 0 && c != '.' && c != '_' && c != '-') c = '-';
  if (name.empty() || name[0] == '.') name.insert(0, "-");
  return name;
}

void export_study(const Study& study, const std::filesystem::path& folder) {
  NewFolder made(folder);
  write_file(made.path() / "scores.csv", scores_text(study));
  write_file(made.path() / "curves.csv", curves_text(study));
  for (const StudyRun& run : study.runs) {
    write_file(
        made.path() / "traces" / file_name_of(study.trackers[run.tracker].label) / trace_name(study, run),
        trace_text(run.trace));
  }
  made.finish();
}

}  // namespace mnemon
