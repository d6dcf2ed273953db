// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <map>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/study/plan.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {
namespace {

using Places = std::map<std::int64_t, int>;  // a row's id to its place in the study

OrientedBox box_at(const Statement& row, int column) {
  const double angle = row.maybe_real(column + 4).value_or(0);
  return {{row.real(column), row.real(column + 1), row.real(column + 2), row.real(column + 3)}, angle};
}

std::optional<PositionMm> position_at(const Statement& row, int column) {
  const auto x = row.maybe_real(column);
  const auto y = row.maybe_real(column + 1);
  const auto z = row.maybe_real(column + 2);
  return x && y && z ? std::optional(PositionMm{*x, *y, *z}) : std::nullopt;
}

// A mask that is none is damage, which costs that mask alone.
void read_mask_at(const Statement& row, int column, int frame, std::vector<FrameRuns>& masks) {
  if (auto runs = unpacked(row.text(column))) masks.push_back({frame, std::move(*runs)});
}

Truth read_truth_of(Database& database, std::int64_t id) {
  Truth truth;
  Statement rows = database.prepare(
      "SELECT frame, x, y, w, h, angle, present, visible, x_mm, y_mm, z_mm, mask FROM truth "
      "WHERE sequence_id = ? ORDER BY frame");
  for (rows.bind(id); rows.next();) {
    TruthRow row{static_cast<int>(rows.whole(0)), box_at(rows, 1), rows.whole(6) != 0, rows.real(7),
                 position_at(rows, 8)};
    if (!row.present) row.box = {};
    read_mask_at(rows, 11, row.frame, truth.masks);
    truth.rows.push_back(row);
  }
  truth.rows.shrink_to_fit();
  Statement others = database.prepare(
      "SELECT frame, name, x, y, w, h, angle FROM others WHERE sequence_id = ? ORDER BY frame, rowid");
  for (others.bind(id); others.next();)
    truth.others.push_back({static_cast<int>(others.whole(0)), others.text(1), box_at(others, 2)});
  return truth;
}

Event event_of(const std::string& name) {
  constexpr std::array kAll{Event::none, Event::seed, Event::loss, Event::reseed, Event::skip, Event::mark};
  const auto at = std::ranges::find(kAll, std::string_view(name), event_name);
  return at == kAll.end() ? Event::none : *at;
}

Trace read_trace_of(Database& database, std::int64_t id) {
  Trace trace;
  Statement rows = database.prepare(
      "SELECT frame, x, y, w, h, angle, confidence, present, step_ms, event, minor_px, x_mm, y_mm, z_mm, "
      "mask "
      "FROM estimates WHERE run_id = ? ORDER BY frame");
  for (rows.bind(id); rows.next();) {
    TraceRow row{static_cast<int>(rows.whole(0)),
                 box_at(rows, 1),
                 rows.real(6),
                 rows.whole(7) != 0,
                 rows.maybe_real(8),
                 event_of(rows.text(9))};
    row.minor_px = rows.maybe_real(10);
    row.position = position_at(rows, 11);
    read_mask_at(rows, 14, row.frame, trace.masks);
    trace.rows.push_back(row);
  }
  trace.rows.shrink_to_fit();
  return trace;
}

void read_rates(Database& database, std::int64_t id, StudyRun& run) {
  Statement rates =
      database.prepare("SELECT rate_hz, success_area FROM rate_areas WHERE run_id = ? ORDER BY rate_hz");
  for (rates.bind(id); rates.next();) run.rate_areas.push_back({rates.real(0), rates.maybe_real(1)});
}

RunMoments read_moments(Database& database, std::int64_t id) {
  RunMoments moments;
  Statement crops =
      database.prepare("SELECT frame, x, y, w, h, jpeg FROM crops WHERE run_id = ? ORDER BY frame");
  for (crops.bind(id); crops.next();)
    moments.crops.push_back({static_cast<int>(crops.whole(0)),
                             {crops.real(1), crops.real(2), crops.real(3), crops.real(4)},
                             crops.text(5)});
  Statement stages = database.prepare(
      "SELECT frame, name, low, high, jpeg FROM stages WHERE run_id = ? ORDER BY frame, rowid");
  for (stages.bind(id); stages.next();)
    moments.stages.push_back(
        {static_cast<int>(stages.whole(0)), stages.text(1), stages.real(2), stages.real(3), stages.text(4)});
  return moments;
}

// How a study is read.
struct Reading {
  StudyParts parts;
  std::function<void(const Study&, const StudyRun&)> use;  // may be empty
  [[nodiscard]] bool holds_truth() const { return parts.runs == RunParts::all; }
  [[nodiscard]] bool holds_pictures() const { return parts.pictures && parts.runs == RunParts::all; }
};

void read_tags(Database& database, std::int64_t id, StudySequence& sequence) {
  Statement tags =
      database.prepare("SELECT tag, given, measured FROM tags WHERE sequence_id = ? ORDER BY tag");
  for (tags.bind(id); tags.next();) {
    if (tags.whole(1) != 0) sequence.tags.push_back(tags.text(0));
    if (tags.whole(2) != 0) sequence.measured_tags.push_back(tags.text(0));
  }
  Statement spans =
      database.prepare("SELECT tag, first_frame, last_frame FROM spans WHERE sequence_id = ? ORDER BY rowid");
  for (spans.bind(id); spans.next();)
    sequence.spans.push_back(
        {spans.text(0), static_cast<int>(spans.whole(1)), static_cast<int>(spans.whole(2))});
  Statement sets = database.prepare("SELECT name FROM sets WHERE sequence_id = ? ORDER BY rowid");
  for (sets.bind(id); sets.next();) sequence.sets.push_back(sets.text(0));
}

std::vector<StudyPicture> read_pictures(Database& database, std::int64_t id) {
  std::vector<StudyPicture> all;
  Statement pictures =
      database.prepare("SELECT frame, jpeg FROM pictures WHERE sequence_id = ? ORDER BY frame");
  for (pictures.bind(id); pictures.next();)
    all.push_back({static_cast<int>(pictures.whole(0)), pictures.text(1)});
  return all;
}

Places read_sequences(Database& database, const Reading& reading, Study& study) {
  Places places;
  Statement rows = database.prepare(
      "SELECT id, name, title, path, fingerprint, frames, width, height, rate_hz, stress_scene, stress_knob, "
      "stress_level, stress_random FROM sequences "
      "JOIN (SELECT sequence_id, min(rowid) AS place FROM planned GROUP BY sequence_id) ON sequence_id = id "
      "ORDER BY place");
  while (rows.next()) {
    StudySequence sequence;
    sequence.row = rows.whole(0);
    sequence.name = rows.text(1);
    sequence.title = rows.text(2);
    sequence.path = rows.text(3);
    sequence.fingerprint = rows.text(4);
    sequence.frames = static_cast<int>(rows.whole(5));
    sequence.size = {static_cast<int>(rows.whole(6)), static_cast<int>(rows.whole(7))};
    sequence.rate_hz = rows.real(8);
    if (!rows.text(9).empty())
      sequence.stress = {rows.text(9), rows.text(10), rows.real(11), static_cast<int>(rows.whole(12))};
    if (reading.holds_truth()) sequence.truth = read_truth_of(database, sequence.row);
    read_tags(database, sequence.row, sequence);
    if (reading.holds_pictures()) sequence.pictures = read_pictures(database, sequence.row);
    places[sequence.row] = static_cast<int>(study.sequences.size());
    study.sequences.push_back(std::move(sequence));
  }
  return places;
}

// Places of trackers by their labels.
std::map<std::string, int> read_trackers(Database& database, Study& study) {
  std::map<std::string, int> places;
  Statement rows = database.prepare(
      "SELECT label, name, params, sweep FROM trackers "
      "JOIN (SELECT label, sweep, tracker_id, min(rowid) AS place FROM planned GROUP BY label) "
      "ON tracker_id = id ORDER BY place");
  while (rows.next()) {
    places[rows.text(0)] = static_cast<int>(study.trackers.size());
    study.trackers.push_back({rows.text(0), rows.text(1), rows.text(2), rows.text(3)});
  }
  return places;
}

// A protocol that this library does not know, or with other parameters, is damage.
Places read_protocols(Database& database, Study& study) {
  Places places;
  Statement rows = database.prepare(
      "SELECT id, name, params FROM protocols "
      "JOIN (SELECT protocol_id, min(rowid) AS place FROM planned GROUP BY protocol_id) ON protocol_id = id "
      "ORDER BY place");
  while (rows.next()) {
    places[rows.whole(0)] = static_cast<int>(study.protocols.size());
    try {
      study.protocols.push_back(make_protocol(rows.text(1), params_from_json(rows.text(2))));
    } catch (const CallError& error) {
      throw DataError({database.file()}, error.what());
    }
  }
  return places;
}

template <class Id>
int place_of(const std::map<Id, int>& places, const Id& id, const Database& database) {
  const auto at = places.find(id);
  if (at == places.end())
    throw DataError({database.file()},
                    "a run in it belongs to a tracker, sequence or protocol that it does not hold");
  return at->second;
}

int place_of_build(Study& study, const BuildFacts& build) {
  const auto at = std::ranges::find(study.builds, build);
  const auto place = at - study.builds.begin();
  if (at == study.builds.end()) study.builds.push_back(build);
  return static_cast<int>(place);
}

// Gives the memory back, which `= {}` does not.
template <class T>
void drop(std::vector<T>& all) noexcept {
  std::vector<T>().swap(all);
}

// Leaves out all but single figures.
void keep_figures(StudyRun& run) {
  if (run.score) run.figures = packed_figures(*run.score);
  run.score.reset();
  run.trace = {};
  drop(run.troubles);
}

// Takes runs as they come, a handful at a time.
class RunsTaken {
 public:
  RunsTaken(Database& database, Study& study, const Reading& reading)
      : database_(database), study_(study), reading_(reading) {}

  void take(StudyRun run) {
    if (!reading_.holds_truth() && !truths_.contains(run.sequence))
      truths_.emplace(run.sequence, read_truth_of(database_, study_.sequences[run.sequence].row));
    taken_.push_back(std::move(run));
    if (taken_.size() == kAtOnce) pass_on();
  }

  // Scores and troubles are worked out from the traces, so that they are those of this library.
  void pass_on() {
    for_each_index(static_cast<int>(taken_.size()), 0, [&](int i) {
      StudyRun& run = taken_[static_cast<std::size_t>(i)];
      if (!run.failure.empty()) return;
      const Truth& truth =
          reading_.holds_truth() ? study_.sequences[run.sequence].truth : truths_.at(run.sequence);
      const ScoreOptions options = study_.protocols[run.protocol].score_options();
      run.score = std::make_shared<const RunScore>(score_run(truth, run.trace, options));
      run.troubles = troubles_of_run(truth, run.trace, options);
    });
    for (StudyRun& run : taken_) {
      if (reading_.use) reading_.use(study_, run);
      if (reading_.parts.runs == RunParts::figures) keep_figures(run);
      if (reading_.parts.runs != RunParts::none) study_.runs.push_back(std::move(run));
    }
    taken_.clear();
    truths_.clear();
  }

 private:
  static constexpr std::size_t kAtOnce = 64;
  Database& database_;
  Study& study_;
  const Reading& reading_;
  std::vector<StudyRun> taken_;
  std::map<int, Truth> truths_;  // of their sequences, by place
};

void read_runs(Database& database, const std::map<std::string, int>& trackers, const Places& sequences,
               const Places& protocols, const Reading& reading, Study& study) {
  Statement rows = database.prepare(
      "SELECT runs.id, label, sequence_id, protocol_id, start, repeat, timed, failure, source, "
      "highest_rate_hz, "
      "version, code, compiler, processor, cores, told_ms, peak_bytes, has_stages, arithmetic "
      "FROM planned JOIN runs USING (tracker_id, sequence_id, protocol_id, start, repeat) "
      "JOIN builds ON builds.id = build_id ORDER BY planned.rowid");
  const std::vector<std::string>& labels = reading.parts.labels;
  RunsTaken taken(database, study, reading);
  for (; rows.next(); --study.missing_runs) {
    if (!labels.empty() && std::ranges::find(labels, rows.text(1)) == labels.end()) continue;
    StudyRun run;
    run.row = rows.whole(0);
    run.tracker = place_of(trackers, rows.text(1), database);
    run.sequence = place_of(sequences, rows.whole(2), database);
    run.protocol = place_of(protocols, rows.whole(3), database);
    run.start = static_cast<int>(rows.whole(4));
    run.repeat = static_cast<int>(rows.whole(5));
    run.timed = rows.whole(6) != 0;
    run.failure = rows.text(7);
    run.source = rows.text(8);
    run.highest_rate_hz = rows.maybe_real(9);
    run.told_ms = rows.maybe_real(15);
    run.peak_bytes = rows.maybe_real(16);
    run.has_stages = rows.whole(17) != 0;
    run.trace = read_trace_of(database, run.row);
    read_rates(database, run.row, run);
    if (reading.holds_pictures()) {
      RunMoments moments = read_moments(database, run.row);
      run.crops = std::move(moments.crops);
      run.stages = std::move(moments.stages);
    }
    run.build = place_of_build(study, {rows.text(10), rows.text(11), rows.text(12), rows.text(13),
                                       static_cast<int>(rows.whole(14)), rows.text(18)});
    taken.take(std::move(run));
  }
  taken.pass_on();
}

}  // namespace

namespace {

// What a process told when it began, by key.
Json told_by_process(const StudyTracker& tracker, const char* key) {
  if (!tracker.is_process()) return {};
  const Json all = Json::parse(tracker.params, nullptr, false);
  const Json process = all.is_object() ? all.value(kProcessName, Json::object()) : Json::object();
  return process.is_object() ? process.value(key, Json()) : Json();
}

}  // namespace

namespace {

// Those that came first stay: figures go through all runs in the same order, one after the other.
template <class T>
void keep_if_small(std::int64_t row, const T& read, std::map<std::int64_t, T>& kept, std::size_t& bytes) {
  constexpr std::size_t kMostKept = 1'000'000;
  const std::size_t size = read.rows.size() * sizeof(read.rows[0]);
  if (!read.masks.empty() || bytes + size > kMostKept) return;
  bytes += size;
  kept.emplace(row, read);
}

}  // namespace

Trace StudyFile::trace(std::int64_t row) const {
  const std::scoped_lock lock(mutex_);
  if (const auto at = traces_.find(row); at != traces_.end()) return at->second;
  Trace trace = read_trace_of(database_, row);
  if (trace.rows.empty())
    throw DataError({database_.file()},
                    "a run in it went while it was read; do this again when nothing writes to it");
  keep_if_small(row, trace, traces_, trace_bytes_);
  return trace;
}

Truth StudyFile::truth(std::int64_t row) const {
  const std::scoped_lock lock(mutex_);
  if (const auto at = truths_.find(row); at != truths_.end()) return at->second;
  Truth truth = read_truth_of(database_, row);
  keep_if_small(row, truth, truths_, truth_bytes_);
  return truth;
}

RunMoments StudyFile::moments(std::int64_t row) const {
  const std::scoped_lock lock(mutex_);
  return read_moments(database_, row);
}

std::vector<StudyPicture> StudyFile::pictures(std::int64_t row) const {
  const std::scoped_lock lock(mutex_);
  return read_pictures(database_, row);
}

std::size_t StudyFile::picture_bytes() const {
  const std::scoped_lock lock(mutex_);
  Statement bytes = database_.prepare(
      "WITH planned_runs AS (SELECT runs.id AS id FROM planned "
      "JOIN runs USING (tracker_id, sequence_id, protocol_id, start, repeat)) "
      "SELECT coalesce(sum(bytes), 0) FROM ("
      "SELECT length(jpeg) AS bytes FROM pictures WHERE sequence_id IN (SELECT sequence_id FROM planned) "
      "UNION ALL SELECT length(jpeg) FROM crops WHERE run_id IN (SELECT id FROM planned_runs) "
      "UNION ALL SELECT length(jpeg) FROM stages WHERE run_id IN (SELECT id FROM planned_runs))");
  return bytes.next() ? static_cast<std::size_t>(bytes.whole(0)) : 0;
}

RunScore Study::score_of(const StudyRun& run) const {
  if (run.score) return *run.score;
  return score_run(truth_of(sequences[run.sequence]), trace_of(run), protocols[run.protocol].score_options());
}

std::vector<TroubleRow> Study::troubles_of(const StudyRun& run) const {
  if (!file || !run.failure.empty()) return run.troubles;
  return troubles_of_run(truth_of(sequences[run.sequence]), trace_of(run),
                         protocols[run.protocol].score_options());
}

std::size_t Study::picture_bytes() const {
  if (file) return file->picture_bytes();
  std::size_t bytes = 0;
  for (const StudySequence& sequence : sequences)
    for (const StudyPicture& picture : sequence.pictures) bytes += picture.jpeg.size();
  for (const StudyRun& run : runs) {
    for (const StudyCrop& crop : run.crops) bytes += crop.jpeg.size();
    for (const StudyStage& stage : run.stages) bytes += stage.jpeg.size();
  }
  return bytes;
}

double StudyTracker::model_bytes() const {
  const Json bytes = told_by_process(*this, "model_bytes");
  return bytes.is_number() ? bytes.get<double>() : 0;
}

bool StudyTracker::is_trained_on(const std::string& sequence) const {
  const Json names = told_by_process(*this, "trained_on");
  return names.is_array() && std::ranges::find(names, Json(sequence)) != names.end();
}

void check_study_form(Database& database) {
  Statement form = database.prepare("SELECT value FROM facts WHERE key = 'format'");
  if (form.next() && form.text(0) != kStudyForm)
    throw DataError({database.file()},
                    fmt::format("is a study of form '{}', and this program knows '{}'; run the plan "
                                "into another folder",
                                form.text(0), kStudyForm));
}

namespace {

Study read(const std::filesystem::path& folder, const Reading& reading) {
  std::error_code code;
  if (std::filesystem::is_regular_file(folder / kStudyFile, code) &&
      std::filesystem::file_size(folder / kStudyFile, code) == 0)
    throw DataError({folder / kStudyFile}, "is empty; delete it, and run the plan again");
  Database database(folder / kStudyFile, Database::Mode::read);
  check_study_form(database);
  Study study;
  Statement title = database.prepare("SELECT value FROM facts WHERE key = 'title'");
  if (title.next()) study.title = title.text(0);
  const Places sequences = read_sequences(database, reading, study);
  const std::map<std::string, int> trackers = read_trackers(database, study);
  const Places protocols = read_protocols(database, study);
  Statement planned = database.prepare("SELECT count(*) FROM planned");
  planned.next();
  study.missing_runs = static_cast<int>(planned.whole(0));  // less those that are there
  if (reading.parts.runs != RunParts::none) study.runs.reserve(study.missing_runs);
  read_runs(database, trackers, sequences, protocols, reading, study);
  if (reading.parts.runs == RunParts::figures) study.file = std::make_shared<StudyFile>(folder / kStudyFile);
  return study;
}

}  // namespace

Study read_study(const std::filesystem::path& folder, const StudyParts& parts) {
  return read(folder, {parts, {}});
}

void visit_study(const std::filesystem::path& folder,
                 const std::function<void(const Study&, const StudyRun&)>& use) {
  (void)read(folder, {{.runs = RunParts::none}, use});
}

}  // namespace mnemon
