// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <map>

#include <mnemon/base/error.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {
namespace {

using Places = std::map<std::int64_t, int>;  // a row's id to its place in the study

OrientedBox box_at(const Statement& row, int column) {
  const double angle = row.maybe_real(column + 4).value_or(0);
  return {{row.real(column), row.real(column + 1), row.real(column + 2), row.real(column + 3)}, angle};
}

Truth read_truth_of(Database& database, std::int64_t id) {
  Truth truth;
  Statement rows = database.prepare(
      "SELECT frame, x, y, w, h, angle, present, visible FROM truth WHERE sequence_id = ? ORDER BY frame");
  for (rows.bind(id); rows.next();) {
    TruthRow row{static_cast<int>(rows.whole(0)), box_at(rows, 1), rows.whole(6) != 0, rows.real(7)};
    if (!row.present) row.box = {};
    truth.rows.push_back(row);
  }
  return truth;
}

Event event_of(const std::string& name) {
  constexpr std::array kAll{Event::none, Event::seed, Event::loss, Event::reseed, Event::skip};
  const auto at = std::ranges::find(kAll, std::string_view(name), event_name);
  return at == kAll.end() ? Event::none : *at;
}

Trace read_trace_of(Database& database, std::int64_t id) {
  Trace trace;
  Statement rows = database.prepare(
      "SELECT frame, x, y, w, h, angle, confidence, present, step_ms, event "
      "FROM estimates WHERE run_id = ? ORDER BY frame");
  for (rows.bind(id); rows.next();)
    trace.rows.push_back({static_cast<int>(rows.whole(0)), box_at(rows, 1), rows.real(6), rows.whole(7) != 0,
                          rows.maybe_real(8), event_of(rows.text(9))});
  return trace;
}

void read_tags_and_pictures(Database& database, std::int64_t id, StudySequence& sequence) {
  Statement tags = database.prepare("SELECT tag FROM tags WHERE sequence_id = ? ORDER BY tag");
  for (tags.bind(id); tags.next();) sequence.tags.push_back(tags.text(0));
  Statement pictures =
      database.prepare("SELECT frame, jpeg FROM pictures WHERE sequence_id = ? ORDER BY frame");
  for (pictures.bind(id); pictures.next();)
    sequence.pictures.push_back({static_cast<int>(pictures.whole(0)), pictures.text(1)});
}

Places read_sequences(Database& database, Study& study) {
  Places places;
  Statement rows = database.prepare(
      "SELECT id, name, title, path, fingerprint, frames, width, height, rate_hz FROM sequences "
      "JOIN (SELECT sequence_id, min(rowid) AS place FROM planned GROUP BY sequence_id) ON sequence_id = id "
      "ORDER BY place");
  while (rows.next()) {
    StudySequence sequence{rows.text(1),
                           rows.text(2),
                           rows.text(3),
                           rows.text(4),
                           static_cast<int>(rows.whole(5)),
                           {static_cast<int>(rows.whole(6)), static_cast<int>(rows.whole(7))},
                           rows.real(8),
                           {},
                           {},
                           {}};
    sequence.truth = read_truth_of(database, rows.whole(0));
    read_tags_and_pictures(database, rows.whole(0), sequence);
    places[rows.whole(0)] = static_cast<int>(study.sequences.size());
    study.sequences.push_back(std::move(sequence));
  }
  return places;
}

Places read_trackers(Database& database, Study& study) {
  Places places;
  Statement rows = database.prepare(
      "SELECT id, label, name, params FROM trackers "
      "JOIN (SELECT tracker_id, min(rowid) AS place FROM planned GROUP BY tracker_id) ON tracker_id = id "
      "ORDER BY place");
  while (rows.next()) {
    places[rows.whole(0)] = static_cast<int>(study.trackers.size());
    study.trackers.push_back({rows.text(1), rows.text(2), rows.text(3)});
  }
  return places;
}

int place_of(const Places& places, std::int64_t id, const Database& database) {
  const auto at = places.find(id);
  if (at == places.end())
    throw DataError({database.file()}, "a run in it belongs to a tracker or sequence that it does not hold");
  return at->second;
}

void read_runs(Database& database, const Places& trackers, const Places& sequences, Study& study) {
  Statement rows = database.prepare(
      "SELECT runs.id, tracker_id, sequence_id, protocol, timed, failure, version, code, compiler, "
      "processor, cores "
      "FROM planned JOIN runs USING (tracker_id, sequence_id, protocol) JOIN builds ON builds.id = build_id "
      "ORDER BY planned.rowid");
  while (rows.next()) {
    StudyRun run{place_of(trackers, rows.whole(1), database),
                 place_of(sequences, rows.whole(2), database),
                 rows.text(3),
                 rows.whole(4) != 0,
                 rows.text(5),
                 read_trace_of(database, rows.whole(0)),
                 {}};
    if (run.failure.empty()) run.score = score_run(study.sequences[run.sequence].truth, run.trace);
    study.build = {rows.text(6), rows.text(7), rows.text(8), rows.text(9), static_cast<int>(rows.whole(10))};
    study.runs.push_back(std::move(run));
  }
}

}  // namespace

Study read_study(const std::filesystem::path& folder) {
  Database database(folder / kStudyFile, Database::Mode::read);
  Study study;
  Statement title = database.prepare("SELECT value FROM facts WHERE key = 'title'");
  if (title.next()) study.title = title.text(0);
  const Places sequences = read_sequences(database, study);
  const Places trackers = read_trackers(database, study);
  read_runs(database, trackers, sequences, study);
  Statement planned = database.prepare("SELECT count(*) FROM planned");
  planned.next();
  study.missing_runs = static_cast<int>(planned.whole(0)) - static_cast<int>(study.runs.size());
  return study;
}

}  // namespace mnemon
