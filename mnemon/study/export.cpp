// SPDX-License-Identifier: MIT
#include <mnemon/study/export.hpp>

#include <cerrno>
#include <cstring>
#include <fstream>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
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

// A table that grows run by run.
class Table {
 public:
  Table(const std::filesystem::path& folder, const char* name, const std::string& header)
      : file_(folder / name), out_(file_, std::ios::binary) {
    add(header);
  }
  void add(const std::string& text) {
    errno = 0;
    out_ << text;
    check();
  }
  void finish() {
    errno = 0;
    out_.close();
    check();
  }

 private:
  void check() const {
    if (!out_)
      throw DataError({file_}, fmt::format("cannot be written: {}",
                                           errno != 0 ? std::strerror(errno) : "unknown reason"));
  }
  std::filesystem::path file_;
  std::ofstream out_;
};

std::string scores_header() {
  std::string text = "tracker,sequence,protocol,start,repeat,failure";
  for (const ScalarMeasure& measure : scalar_measures()) text += "," + std::string(measure.name);
  return text + ",highest_rate_hz,told_ms,peak_bytes\n";
}

std::string scores_row(const std::string& fields, const StudyRun& run) {
  std::string text = fields + "," + csv_field(run.failure);
  for (const ScalarMeasure& measure : scalar_measures())
    text += "," + figure_text(run.score ? measure.of(*run.score) : std::nullopt);
  return text + "," + figure_text(run.highest_rate_hz) + "," + figure_text(run.told_ms) + "," +
         figure_text(run.peak_bytes) + "\n";
}

void add_curve(const std::string& run, const char* name, const std::vector<double>& curve, double per_step,
               std::string& text) {
  for (std::size_t i = 0; i < curve.size(); ++i)
    text += fmt::format("{},{},{},{}\n", run, name, number_text(static_cast<double>(i) / per_step),
                        number_text(curve[i]));
}

std::string curves_rows(const std::string& fields, const StudyRun& run) {
  std::string text;
  if (!run.score) return text;
  add_curve(fields, "overlap", run.score->overlap_curve, 100, text);
  add_curve(fields, "centre", run.score->centre_curve, 1, text);
  add_curve(fields, "relative_centre", run.score->relative_centre_curve, 200, text);
  return text;
}

std::string losses_rows(const std::string& fields, const StudyRun& run) {
  std::string text;
  for (const TroubleRow& row : run.troubles)
    text += fmt::format("{},{},{},{},{},{},{},{},{},{},{},{}\n", fields, trouble_text(row.kind), row.begin,
                        row.frames, row.absent_frames, end_text(row.end), cause_text(row.cause),
                        row.said_lost ? 1 : 0, figure_text(row.overlap_before),
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

int export_study(const std::filesystem::path& study, const std::filesystem::path& folder, bool overwrite) {
  NewFolder made(folder, overwrite ? Replace::if_only_of(
                                         {"scores.csv", "curves.csv", "losses.csv", "traces.csv", "traces"})
                                   : Replace::nothing());
  const std::string run_header = "tracker,sequence,protocol,start,repeat,";
  Table scores(made.path(), "scores.csv", scores_header());
  Table curves(made.path(), "curves.csv", run_header + "curve,threshold,share\n");
  Table losses(
      made.path(), "losses.csv",
      run_header +
          "kind,frame,frames,absent_frames,end,cause,said_lost,overlap_before,confidence_before,other,"
          "overlap_with_other\n");
  Table index(made.path(), "traces.csv", "file,tracker,sequence,protocol,start,repeat\n");
  int traces = 0;
  visit_study(study, [&](const Study& known, const StudyRun& run) {
    const std::string fields = run_fields(known, run);
    scores.add(scores_row(fields, run));
    curves.add(curves_rows(fields, run));
    losses.add(losses_rows(fields, run));
    if (!run.failure.empty()) return;
    const std::filesystem::path file =
        std::filesystem::path(file_name_of(known.trackers[run.tracker].label)) /
        trace_file_name(known.sequences[run.sequence].name, known.protocols[run.protocol].name, run.start,
                        run.repeat);
    write_file(made.path() / "traces" / file, trace_text(run.trace));
    index.add(csv_field(file.string()) + "," + fields + "\n");
    ++traces;
  });
  for (Table* table : {&scores, &curves, &losses, &index}) table->finish();
  made.finish();
  return traces;
}

}  // namespace mnemon
