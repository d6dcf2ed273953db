// SPDX-License-Identifier: MIT
#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

extern const std::string_view study_schema;  // mnemon/study/schema.sql, put in by the build

namespace {

constexpr const char* kFormat = "mnemon-study/1";

std::filesystem::path study_file_in(const std::filesystem::path& folder) {
  make_folder(folder);
  return folder / kStudyFile;
}

void put_fact(Database& database, const std::string& key, const std::string& value) {
  database.prepare("INSERT OR REPLACE INTO facts VALUES (?, ?)").bind(key).bind(value).run();
}

void put_truth(Database& database, std::int64_t id, const Truth& truth) {
  Statement insert = database.prepare("INSERT INTO truth VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
  for (const TruthRow& row : truth.rows) {
    insert.bind(id).bind(row.frame);
    if (row.present) {
      const Box& box = row.box.box;
      insert.bind(box.x).bind(box.y).bind(box.w).bind(box.h).bind(row.box.angle_deg);
    } else {
      for (int i = 0; i < 5; ++i) insert.bind(std::optional<double>());
    }
    insert.bind(row.present ? 1 : 0).bind(row.visible).run();
  }
}

void put_estimates(Database& database, std::int64_t id, const Trace& trace) {
  Statement insert = database.prepare("INSERT INTO estimates VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  for (const TraceRow& row : trace.rows) {
    const Box& box = row.box.box;
    insert.bind(id).bind(row.frame).bind(box.x).bind(box.y).bind(box.w).bind(box.h).bind(row.box.angle_deg);
    insert.bind(row.confidence).bind(row.present ? 1 : 0).bind(row.step_ms);
    insert.bind(std::string(event_name(row.event))).run();
  }
}

void put_scores(Database& database, std::int64_t id, const RunScore& score) {
  Statement insert = database.prepare("INSERT INTO scores VALUES (?, ?, ?)");
  for (const ScalarScore& scalar : scalar_scores(score))
    insert.bind(id).bind(scalar.measure).bind(scalar.value).run();
}

}  // namespace

StudyWriter::StudyWriter(const std::filesystem::path& folder)
    : database_(study_file_in(folder), Database::Mode::create) {
  Transaction transaction(database_);
  database_.run(study_schema);
  Statement format = database_.prepare("SELECT value FROM facts WHERE key = 'format'");
  if (format.next() && format.text(0) != kFormat)
    throw DataError({folder / kStudyFile}, fmt::format("is a study of form '{}'; this program writes '{}'",
                                                       format.text(0), kFormat));
  put_fact(database_, "format", kFormat);
  transaction.commit();
}

void StudyWriter::begin_plan(const std::string& title) {
  Transaction transaction(database_);
  put_fact(database_, "title", title);
  database_.run("DELETE FROM planned");
  transaction.commit();
}

std::int64_t StudyWriter::add_tracker(const StudyTracker& tracker) {
  database_.prepare("INSERT OR IGNORE INTO trackers (label, name, params) VALUES (?, ?, ?)")
      .bind(tracker.label)
      .bind(tracker.name)
      .bind(tracker.params)
      .run();
  Statement find = database_.prepare("SELECT id FROM trackers WHERE label = ? AND name = ? AND params = ?");
  find.bind(tracker.label).bind(tracker.name).bind(tracker.params).next();
  return find.whole(0);
}

bool StudyWriter::has_sequence(const std::string& name, const std::string& fingerprint) {
  return database_.prepare("SELECT 1 FROM sequences WHERE name = ? AND fingerprint = ?")
      .bind(name)
      .bind(fingerprint)
      .next();
}

std::int64_t StudyWriter::add_sequence(const StudySequence& sequence) {
  Transaction transaction(database_);
  Statement find = database_.prepare("SELECT id FROM sequences WHERE name = ? AND fingerprint = ?");
  if (find.bind(sequence.name).bind(sequence.fingerprint).next()) return find.whole(0);
  database_
      .prepare(
          "INSERT INTO sequences (name, title, path, fingerprint, frames, width, height, rate_hz) "
          "VALUES (?, ?, ?, ?, ?, ?, ?, ?)")
      .bind(sequence.name)
      .bind(sequence.title)
      .bind(sequence.path)
      .bind(sequence.fingerprint)
      .bind(sequence.frames)
      .bind(sequence.size.width)
      .bind(sequence.size.height)
      .bind(sequence.rate_hz)
      .run();
  const std::int64_t id = database_.last_id();
  for (const std::string& tag : sequence.tags)
    database_.prepare("INSERT INTO tags VALUES (?, ?)").bind(id).bind(tag).run();
  put_truth(database_, id, sequence.truth);
  for (const StudyPicture& picture : sequence.pictures)
    database_.prepare("INSERT INTO pictures VALUES (?, ?, ?)")
        .bind(id)
        .bind(picture.frame)
        .bind_bytes(picture.jpeg)
        .run();
  transaction.commit();
  return id;
}

void StudyWriter::plan_run(std::int64_t tracker, std::int64_t sequence, const std::string& protocol) {
  database_.prepare("INSERT OR IGNORE INTO planned VALUES (?, ?, ?)")
      .bind(tracker)
      .bind(sequence)
      .bind(protocol)
      .run();
}

bool StudyWriter::has_run(std::int64_t tracker, std::int64_t sequence, const std::string& protocol,
                          const BuildFacts& build) {
  return database_
      .prepare(
          "SELECT 1 FROM runs JOIN builds ON builds.id = build_id WHERE tracker_id = ? AND "
          "sequence_id = ? AND protocol = ? AND failure IS NULL AND code = ? AND compiler = ? AND "
          "processor = ?")
      .bind(tracker)
      .bind(sequence)
      .bind(protocol)
      .bind(build.code)
      .bind(build.compiler)
      .bind(build.processor)
      .next();
}

std::int64_t StudyWriter::add_build(const BuildFacts& build) {
  const auto bind = [&build](Statement& statement) -> Statement& {
    return statement.bind(build.version)
        .bind(build.code)
        .bind(build.compiler)
        .bind(build.processor)
        .bind(build.cores);
  };
  Statement insert = database_.prepare(
      "INSERT OR IGNORE INTO builds (version, code, compiler, processor, cores) "
      "VALUES (?, ?, ?, ?, ?)");
  bind(insert).run();
  Statement find = database_.prepare(
      "SELECT id FROM builds WHERE version = ? AND code = ? AND compiler = ? AND "
      "processor = ? AND cores = ?");
  bind(find).next();
  return find.whole(0);
}

void StudyWriter::put_run(std::int64_t tracker, std::int64_t sequence, const StudyRun& run,
                          const BuildFacts& build) {
  Transaction transaction(database_);
  database_.prepare("DELETE FROM runs WHERE tracker_id = ? AND sequence_id = ? AND protocol = ?")
      .bind(tracker)
      .bind(sequence)
      .bind(run.protocol)
      .run();
  Statement insert = database_.prepare(
      "INSERT INTO runs (tracker_id, sequence_id, protocol, build_id, timed, failure) "
      "VALUES (?, ?, ?, ?, ?, nullif(?, ''))");
  insert.bind(tracker).bind(sequence).bind(run.protocol).bind(add_build(build)).bind(run.timed ? 1 : 0);
  insert.bind(run.failure).run();
  const std::int64_t id = database_.last_id();
  put_estimates(database_, id, run.trace);
  if (run.failure.empty()) put_scores(database_, id, run.score);
  transaction.commit();
}

}  // namespace mnemon
