// SPDX-License-Identifier: MIT
#include <mnemon/study/export.hpp>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/sequence/csv.hpp>
#include <mnemon/study/score_record.hpp>

namespace mnemon {
namespace {

std::string figure_text(const Figure& figure) { return figure ? number_text(*figure) : ""; }

std::string run_fields(const Study& study, const StudyRun& run) {
  return csv_field(study.trackers[run.tracker].label) + "," + csv_field(study.sequences[run.sequence].name) +
         "," + csv_field(study.protocols[run.protocol].name) + fmt::format(",{},{}", run.start, run.repeat);
}

std::string scores_text(const Study& study) {
  std::string text = "tracker,sequence,protocol,start,repeat,failure";
  for (const ScalarMeasure& measure : scalar_measures()) text += "," + std::string(measure.name);
  text += ",highest_rate_hz,told_ms,peak_bytes\n";
  for (const StudyRun& run : study.runs) {
    text += run_fields(study, run) + "," + csv_field(run.failure);
    for (const ScalarMeasure& measure : scalar_measures())
      text += "," + figure_text(run.failure.empty() ? measure.of(run.score) : std::nullopt);
    text += "," + figure_text(run.highest_rate_hz) + "," + figure_text(run.told_ms) + "," +
            figure_text(run.peak_bytes) + "\n";
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
    add_curve(fields, "overlap", run.score.overlap_curve, 100, text);
    add_curve(fields, "centre", run.score.centre_curve, 1, text);
    add_curve(fields, "relative_centre", run.score.relative_centre_curve, 200, text);
  }
  return text;
}

std::string losses_text(const Study& study) {
  std::string text =
      "tracker,sequence,protocol,start,repeat,kind,frame,frames,absent_frames,end,cause,said_lost,"
      "overlap_before,confidence_before,other,overlap_with_other\n";
  for (const StudyRun& run : study.runs)
    for (const TroubleRow& row : run.troubles)
      text += fmt::format("{},{},{},{},{},{},{},{},{},{},{},{}\n", run_fields(study, run),
                          trouble_text(row.kind), row.begin, row.frames, row.absent_frames, end_text(row.end),
                          cause_text(row.cause), row.said_lost ? 1 : 0, figure_text(row.overlap_before),
                          figure_text(row.confidence_before), csv_field(row.other),
                          figure_text(row.overlap_with_other));
  return text;
}

}  // namespace

std::string trace_file_name(const std::string& sequence, const std::string& protocol, int start, int repeat) {
  return fmt::format("{}.{}{}{}.csv", file_name_of(sequence), protocol,
                     make_protocol(protocol).entry().has_several_starts ? fmt::format(".{}", start) : "",
                     repeat > 0 ? fmt::format("{}{}", kRepeatMark, repeat) : "");
}

int export_study(const Study& study, const std::filesystem::path& folder, bool overwrite) {
  NewFolder made(folder, overwrite ? Replace::if_only_of(
                                         {"scores.csv", "curves.csv", "losses.csv", "traces.csv", "traces"})
                                   : Replace::nothing());
  write_file(made.path() / "scores.csv", scores_text(study));
  write_file(made.path() / "curves.csv", curves_text(study));
  write_file(made.path() / "losses.csv", losses_text(study));
  std::string index = "file,tracker,sequence,protocol,start,repeat\n";
  int traces = 0;
  for (const StudyRun& run : study.runs) {
    if (!run.failure.empty()) continue;
    const std::filesystem::path file =
        std::filesystem::path(file_name_of(study.trackers[run.tracker].label)) /
        trace_file_name(study.sequences[run.sequence].name, study.protocols[run.protocol].name, run.start,
                        run.repeat);
    write_file(made.path() / "traces" / file, trace_text(run.trace));
    index += file.string() + "," + run_fields(study, run) + "\n";
    ++traces;
  }
  write_file(made.path() / "traces.csv", index);
  made.finish();
  return traces;
}

}  // namespace mnemon
