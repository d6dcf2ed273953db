// SPDX-License-Identifier: MIT
#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

extern const std::string_view study_schema;  // mnemon/study/schema.sql, put in by the build

namespace {

void put_fact(Database& database, const std::string& key, const std::string& value) {
  database.prepare("INSERT OR REPLACE INTO facts VALUES (?, ?)").bind(key).bind(value).run();
}

Statement& bind_position(Statement& statement, const Rare<PositionMm>& position) {
  const auto part = [&](double PositionMm::*axis) {
    return position ? std::optional((*position).*axis) : std::nullopt;
  };
  return statement.bind(part(&PositionMm::x)).bind(part(&PositionMm::y)).bind(part(&PositionMm::z));
}

// Masks are asked for by rising frame; a frame without one gets NULL.
class MaskBytes {
 public:
  explicit MaskBytes(const std::vector<FrameRuns>& masks) : masks_(masks) {}

  Statement& bind(Statement& statement, int frame) {
    while (at_ < masks_.size() && masks_[at_].frame < frame) ++at_;
    if (at_ == masks_.size() || masks_[at_].frame != frame) return statement.bind(std::optional<double>());
    return statement.bind_bytes(packed(masks_[at_].runs));
  }

 private:
  const std::vector<FrameRuns>& masks_;
  std::size_t at_ = 0;
};

void put_truth(Database& database, std::int64_t id, const Truth& truth) {
  Statement insert = database.prepare("INSERT INTO truth VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  for (const TruthRow& row : truth.rows) {
    insert.bind(id).bind(row.frame);
    if (row.present) {
      const Box& box = row.box.box;
      insert.bind(box.x).bind(box.y).bind(box.w).bind(box.h).bind(row.box.angle_deg);
    } else {
      for (int i = 0; i < 5; ++i) insert.bind(std::optional<double>());
    }
    insert.bind(row.present ? 1 : 0).bind(row.visible);
    bind_position(insert, row.position).bind(std::optional<double>()).run();
  }
}

void put_estimates(Database& database, std::int64_t id, const Trace& trace) {
  Statement& insert =
      database.prepare_once("INSERT INTO estimates VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
  MaskBytes masks(trace.masks);
  for (const TraceRow& row : trace.rows) {
    const Box& box = row.box.box;
    insert.bind(id).bind(row.frame).bind(box.x).bind(box.y).bind(box.w).bind(box.h).bind(row.box.angle_deg);
    insert.bind(row.confidence).bind(row.present ? 1 : 0).bind(row.step_ms);
    insert.bind_lasting(event_name(row.event));
    insert.bind(row.minor_px ? std::optional(*row.minor_px) : std::nullopt);
    masks.bind(bind_position(insert, row.position), row.frame).run();
  }
}

void put_scores(Database& database, std::int64_t id, const StudyRun& run) {
  Statement& insert = database.prepare_once("INSERT INTO scores VALUES (?, ?, ?)");
  const RunScore none;
  const RunScore& score = run.score ? *run.score : none;
  for (const ScalarMeasure& measure : scalar_measures())
    insert.bind(id).bind_lasting(measure.name).bind(measure.of(score)).run();
}

void put_tags(Database& database, std::int64_t id, const StudySequence& sequence) {
  const auto has = [](const std::vector<std::string>& tags, const std::string& tag) {
    return std::ranges::find(tags, tag) != tags.end();
  };
  Statement tags = database.prepare("INSERT OR IGNORE INTO tags VALUES (?, ?, ?, ?)");
  for (const auto* list : {&sequence.tags, &sequence.measured_tags})
    for (const std::string& tag : *list)
      tags.bind(id)
          .bind(tag)
          .bind(has(sequence.tags, tag) ? 1 : 0)
          .bind(has(sequence.measured_tags, tag) ? 1 : 0)
          .run();
  Statement spans = database.prepare("INSERT INTO spans VALUES (?, ?, ?, ?)");
  for (const TagSpan& span : sequence.spans)
    spans.bind(id).bind(span.tag).bind(span.from).bind(span.to).run();
}

void put_pictures(Database& database, std::int64_t id, const StudySequence& sequence) {
  Statement insert = database.prepare("INSERT INTO pictures VALUES (?, ?, ?)");
  for (const StudyPicture& picture : sequence.pictures)
    insert.bind(id).bind(picture.frame).bind_bytes(picture.jpeg).run();
}

void put_others(Database& database, std::int64_t id, const std::vector<OtherRow>& others) {
  Statement insert = database.prepare("INSERT INTO others VALUES (?, ?, ?, ?, ?, ?, ?, ?)");
  for (const OtherRow& row : others) {
    const Box& box = row.box.box;
    insert.bind(id).bind(row.frame).bind(row.name).bind(box.x).bind(box.y).bind(box.w).bind(box.h);
    insert.bind(row.box.angle_deg).run();
  }
}

void put_troubles(Database& database, std::int64_t id, const StudyRun& run) {
  Statement& insert =
      database.prepare_once("INSERT INTO troubles VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, ''), ?)");
  for (const TroubleRow& row : run.troubles)
    insert.bind(id)
        .bind(row.begin)
        .bind_lasting(trouble_text(row.kind))
        .bind(row.frames)
        .bind(row.absent_frames)
        .bind_lasting(end_text(row.end))
        .bind_lasting(cause_text(row.cause))
        .bind(row.said_lost ? 1 : 0)
        .bind(row.overlap_before)
        .bind(row.confidence_before)
        .bind(row.other)
        .bind(row.overlap_with_other)
        .run();
}

void put_moments(Database& database, std::int64_t id, const StudyRun& run) {
  Statement& crops = database.prepare_once("INSERT INTO crops VALUES (?, ?, ?, ?, ?, ?, ?)");
  for (const StudyCrop& crop : run.crops) {
    crops.bind(id).bind(crop.frame).bind(crop.window.x).bind(crop.window.y).bind(crop.window.w);
    crops.bind(crop.window.h).bind_bytes(crop.jpeg).run();
  }
  Statement& rates = database.prepare_once("INSERT INTO rate_areas VALUES (?, ?, ?)");
  for (const RateArea& one : run.rate_areas) rates.bind(id).bind(one.rate_hz).bind(one.success_area).run();
  Statement& stages = database.prepare_once("INSERT INTO stages VALUES (?, ?, ?, ?, ?, ?)");
  for (const StudyStage& stage : run.stages)
    stages.bind(id)
        .bind(stage.frame)
        .bind(stage.name)
        .bind(stage.low)
        .bind(stage.high)
        .bind_bytes(stage.jpeg)
        .run();
}

Statement& bind_key(Statement& statement, const RunKey& key) {
  return statement.bind(key.tracker).bind(key.sequence).bind(key.protocol).bind(key.start).bind(key.repeat);
}

}  // namespace

namespace {

std::filesystem::path file_of(const std::filesystem::path& folder, const std::optional<Shard>& shard) {
  if (!shard) return folder / kStudyFile;
  make_folder(folder / "shards");
  return shard_file(folder, *shard);
}

}  // namespace

StudyWriter::StudyWriter(const std::filesystem::path& folder, std::optional<Shard> shard)
    : lock_(shard ? std::optional<FolderLock>() : std::optional<FolderLock>(std::in_place, folder)),
      database_(file_of(folder, shard), Database::Mode::create) {
  if (shard) {
    // A log beside the file needs memory that all processes share, which file systems over a network do not have.
    database_.run("PRAGMA journal_mode = DELETE");
  } else {
    // A log beside the file makes a transaction cost a hundredth of what it costs without. Killing the program loses
    // nothing that was committed; a failing power supply may lose the last runs, but leaves the file sound.
    database_.run("PRAGMA journal_mode = WAL");
    // Moving the log's pages into the file waits for the disk, with all runs waiting behind it: rather seldom.
    database_.run("PRAGMA wal_autocheckpoint = 16384");
  }
  database_.run("PRAGMA synchronous = NORMAL");
  Transaction transaction(database_);
  database_.run("CREATE TABLE IF NOT EXISTS facts (key TEXT PRIMARY KEY, value TEXT NOT NULL)");
  check_study_form(database_);
  database_.run(study_schema);
  put_fact(database_, "format", kStudyForm);
  transaction.commit();
}

StudyWriter::~StudyWriter() {
  try {
    database_.run("PRAGMA journal_mode = DELETE");
  } catch (const Error&) {
    // Somebody else is reading it: then the log stays until the study is opened next.
  }
}

void StudyWriter::set_title(const std::string& title) { put_fact(database_, "title", title); }

void StudyWriter::set_finished_by(const std::string& who) { put_fact(database_, "finished_by", who); }

void StudyWriter::set_plan(const std::string& fingerprint) { put_fact(database_, "plan", fingerprint); }

void StudyWriter::plan(const std::string& title, const std::vector<PlannedRun>& runs,
                       const std::vector<PlannedMember>& sets) {
  Transaction transaction(database_);
  put_fact(database_, "title", title);
  database_.run("DELETE FROM planned");
  Statement insert = database_.prepare("INSERT INTO planned VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
  for (const PlannedRun& run : runs) {
    bind_key(insert.bind(run.label).bind(run.sweep), run.key);
    insert.bind(run.tracker_place).bind(run.sequence_place).run();
  }
  database_.run("DELETE FROM sets");
  Statement member = database_.prepare("INSERT INTO sets VALUES (?, ?)");
  for (const PlannedMember& one : sets) member.bind(one.set).bind(one.sequence).run();
  transaction.commit();
}

std::int64_t StudyWriter::add_tracker(const std::string& name, const std::string& params) {
  database_.prepare("INSERT OR IGNORE INTO trackers (name, params) VALUES (?, ?)")
      .bind(name)
      .bind(params)
      .run();
  Statement find = database_.prepare("SELECT id FROM trackers WHERE name = ? AND params = ?");
  find.bind(name).bind(params).next();
  return find.whole(0);
}

std::int64_t StudyWriter::add_protocol(const Protocol& protocol) {
  const std::string params = json_text(params_json(protocol.params));
  database_.prepare("INSERT OR IGNORE INTO protocols (name, params) VALUES (?, ?)")
      .bind(protocol.name)
      .bind(params)
      .run();
  Statement find = database_.prepare("SELECT id FROM protocols WHERE name = ? AND params = ?");
  find.bind(protocol.name).bind(params).next();
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
          "INSERT INTO sequences (name, title, path, fingerprint, frames, width, height, rate_hz, "
          "stress_scene, "
          "stress_knob, stress_level, stress_random) "
          "VALUES (?, ?, ?, ?, ?, ?, ?, ?, nullif(?, ''), nullif(?, ''), ?, ?)")
      .bind(sequence.name)
      .bind(sequence.title)
      .bind(sequence.path)
      .bind(sequence.fingerprint)
      .bind(sequence.frames)
      .bind(sequence.size.width)
      .bind(sequence.size.height)
      .bind(sequence.rate_hz)
      .bind(sequence.stress ? sequence.stress->scene : std::string())
      .bind(sequence.stress ? sequence.stress->knob : std::string())
      .bind(sequence.stress ? Figure(sequence.stress->level) : Figure())
      .bind(sequence.stress ? Figure(sequence.stress->random) : Figure())
      .run();
  const std::int64_t id = database_.last_id();
  put_tags(database_, id, sequence);
  put_truth(database_, id, sequence.truth);
  put_others(database_, id, sequence.truth.others);
  put_pictures(database_, id, sequence);
  transaction.commit();
  return id;
}

bool StudyWriter::has_run(const RunKey& key, const BuildFacts& build, const std::string& source,
                          bool needs_stages) {
  Statement find = database_.prepare(
      "SELECT 1 FROM runs JOIN builds ON builds.id = build_id WHERE tracker_id = ? AND sequence_id = ? AND "
      "protocol_id = ? AND start = ? AND repeat = ? AND failure IS NULL AND code = ? AND compiler = ? AND "
      "CASE timed WHEN 0 THEN arithmetic = ? ELSE processor = ? END AND coalesce(source, '') = ? AND "
      "has_stages >= ?");
  bind_key(find, key)
      .bind(build.code)
      .bind(build.compiler)
      .bind(build.arithmetic)
      .bind(build.processor)
      .bind(source);
  return find.bind(needs_stages ? 1 : 0).next();
}

std::int64_t StudyWriter::add_build(const BuildFacts& build) {
  const auto bind = [&build](Statement& statement) -> Statement& {
    return statement.bind(build.version)
        .bind(build.code)
        .bind(build.compiler)
        .bind(build.processor)
        .bind(build.cores)
        .bind(build.arithmetic);
  };
  Statement insert = database_.prepare(
      "INSERT OR IGNORE INTO builds (version, code, compiler, processor, cores, arithmetic) "
      "VALUES (?, ?, ?, ?, ?, ?)");
  bind(insert).run();
  Statement find = database_.prepare(
      "SELECT id FROM builds WHERE version = ? AND code = ? AND compiler = ? AND "
      "processor = ? AND cores = ? AND arithmetic = ?");
  bind(find).next();
  return find.whole(0);
}

void StudyWriter::put_true_masks(std::int64_t sequence, const std::vector<FrameRuns>& masks) {
  Statement known =
      database_.prepare("SELECT 1 FROM truth WHERE sequence_id = ? AND mask IS NOT NULL LIMIT 1");
  if (known.bind(sequence).next()) return;
  Transaction transaction(database_);
  Statement update = database_.prepare("UPDATE truth SET mask = ? WHERE sequence_id = ? AND frame = ?");
  for (const FrameRuns& mask : masks)
    update.bind_bytes(packed(mask.runs)).bind(sequence).bind(mask.frame).run();
  transaction.commit();
}

void StudyWriter::put_run(const RunKey& key, const StudyRun& run, std::int64_t build) {
  Transaction transaction(database_);
  Statement& old = database_.prepare_once(
      "DELETE FROM runs WHERE tracker_id = ? AND sequence_id = ? AND protocol_id = ? AND start = ? AND "
      "repeat = ?");
  bind_key(old, key).run();
  Statement& insert = database_.prepare_once(
      "INSERT INTO runs (tracker_id, sequence_id, protocol_id, start, repeat, build_id, timed, failure, "
      "source, "
      "highest_rate_hz, told_ms, peak_bytes, has_stages) "
      "VALUES (?, ?, ?, ?, ?, ?, ?, nullif(?, ''), nullif(?, ''), ?, ?, ?, ?)");
  bind_key(insert, key).bind(build).bind(run.timed ? 1 : 0).bind(run.failure).bind(run.source);
  insert.bind(run.highest_rate_hz).bind(run.told_ms).bind(run.peak_bytes).bind(run.has_stages ? 1 : 0).run();
  const std::int64_t id = database_.last_id();
  put_estimates(database_, id, run.trace);
  if (run.failure.empty()) put_scores(database_, id, run);
  put_troubles(database_, id, run);
  put_moments(database_, id, run);
  transaction.commit();
}

}  // namespace mnemon
