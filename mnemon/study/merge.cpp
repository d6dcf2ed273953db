// SPDX-License-Identifier: MIT
#include <mnemon/study/merge.hpp>

#include <algorithm>
#include <cstdint>
#include <optional>
#include <set>
#include <tuple>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/study/shard.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

struct ShardFile {
  Shard shard;
  fs::path file;
};

// `3-of-16.sqlite`, or nothing.
std::optional<Shard> shard_named(const fs::path& file) {
  const std::string stem = file.stem().string();
  const auto at = stem.find("-of-");
  if (file.extension() != ".sqlite" || at == std::string::npos) return std::nullopt;
  const auto number = parse_whole(stem.substr(0, at));
  const auto count = parse_whole(stem.substr(at + 4));
  if (!number || !count || *number < 1 || *number > *count) return std::nullopt;
  return Shard{*number, *count};
}

std::vector<ShardFile> shard_files(const fs::path& folder) {
  std::vector<ShardFile> files;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder / "shards", code))
    if (const auto shard = shard_named(entry.path())) files.push_back({*shard, entry.path()});
  std::ranges::sort(files, {},
                    [](const ShardFile& one) { return std::pair(one.shard.count, one.shard.number); });
  if (files.empty())
    throw CallError(
        fmt::format("{}: there are no shards; make them with 'mnemon bench PLAN --out {} --shard K/N'",
                    (folder / "shards").string(), folder.string()));
  for (const ShardFile& one : files)
    if (one.shard.count != files.front().shard.count)
      throw DataError(
          {one.file},
          fmt::format("is one of {} shards, and {} is one of {}: remove those that are not "
                      "of this plan",
                      one.shard.count, files.front().file.filename().string(), files.front().shard.count));
  return files;
}

std::string fact(Database& database, const std::string& key) {
  Statement find = database.prepare("SELECT value FROM facts WHERE key = ?");
  return find.bind(key).next() ? find.text(0) : "";
}

// A run that is planned, by what it belongs to and not by numbers of a file.
struct Planned {
  std::int64_t tracker_place = 0;
  std::int64_t sequence_place = 0;
  int shard = 0;
  std::int64_t row = 0;
  std::string label;
  std::string sweep;
  RunKey key;  // in the study
};

// Tables that belong to a sequence and to a run, with their columns but for the one that says whose they are.
constexpr const char* kOfSequence[][2] = {
    {"tags", "tag, given, measured"},
    {"spans", "tag, first_frame, last_frame"},
    {"truth", "frame, x, y, w, h, angle, present, visible, x_mm, y_mm, z_mm, mask"},
    {"others", "frame, name, x, y, w, h, angle"},
    {"pictures", "frame, jpeg"}};
constexpr const char* kOfRun[][2] = {
    {"estimates",
     "frame, x, y, w, h, angle, confidence, present, step_ms, event, minor_px, x_mm, y_mm, z_mm, mask"},
    {"scores", "measure, value"},
    {"troubles",
     "first_frame, kind, frames, absent_frames, ending, cause, said_lost, overlap_before, confidence_before, "
     "other, "
     "overlap_with_other"},
    {"crops", "frame, x, y, w, h, jpeg"},
    {"rate_areas", "rate_hz, success_area"},
    {"stages", "frame, name, low, high, jpeg"}};

// One run, as it is decided between two.
struct RunRow {
  std::int64_t id = 0;
  bool failed = false;
  std::string code;
  std::string compiler;
  std::string processor;
  bool has_stages = false;
  bool timed = false;

  // The smaller one stays.
  [[nodiscard]] auto rank() const { return std::tuple(failed, code, compiler, processor, !has_stages); }
  [[nodiscard]] std::string made_by() const { return fmt::format("code {} on {}", code, processor); }
};

class Merger {
 public:
  Merger(StudyWriter& writer, MergeSummary& summary) : database_(writer.database()), summary_(summary) {}

  void add(const ShardFile& one) {
    database_.prepare("ATTACH ? AS shard").bind(one.file.string()).run();
    try {
      Transaction transaction(database_);
      add_names();
      add_sequences();
      add_runs();
      read_planned(one.shard.number);
      transaction.commit();
    } catch (...) {
      database_.run("DETACH shard");
      throw;
    }
    database_.run("DETACH shard");
  }

  // What all shards plan together takes the place of what was planned.
  void plan() {
    std::ranges::sort(planned_, {}, [](const Planned& one) {
      return std::tuple(one.tracker_place, one.sequence_place, one.shard, one.row);
    });
    Transaction transaction(database_);
    database_.run("DELETE FROM planned");
    Statement insert = database_.prepare("INSERT OR IGNORE INTO planned VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
    for (const Planned& one : planned_) {
      insert.bind(one.label)
          .bind(one.sweep)
          .bind(one.key.tracker)
          .bind(one.key.sequence)
          .bind(one.key.protocol);
      insert.bind(one.key.start).bind(one.key.repeat).bind(one.tracker_place).bind(one.sequence_place).run();
    }
    database_.run("DELETE FROM sets");
    Statement member = database_.prepare("INSERT OR IGNORE INTO sets VALUES (?, ?)");
    for (const auto& [set, sequence] : sets_) member.bind(set).bind(sequence).run();
    transaction.commit();
    summary_.planned = static_cast<int>(planned_.size());
  }

 private:
  void add_names() {
    database_.run(
        "INSERT OR IGNORE INTO trackers (name, params) SELECT name, params FROM shard.trackers ORDER BY id");
    database_.run(
        "INSERT OR IGNORE INTO protocols (name, params) SELECT name, params FROM shard.protocols ORDER BY "
        "id");
    database_.run(
        "INSERT OR IGNORE INTO builds (version, code, compiler, processor, cores, arithmetic) "
        "SELECT version, code, compiler, processor, cores, arithmetic FROM shard.builds ORDER BY id");
  }

  void copy(const char* table, const char* columns, const char* owner, std::int64_t from, std::int64_t to) {
    Statement insert = database_.prepare(
        fmt::format("INSERT INTO main.{0} ({1}, {2}) SELECT ?, {2} FROM shard.{0} WHERE {1} = ? ORDER BY {3}",
                    table, owner, columns, is_without_rowid(table) ? "2" : "rowid"));
    insert.bind(to).bind(from).run();
  }

  static bool is_without_rowid(std::string_view table) {
    return table != "spans" && table != "others" && table != "troubles" && table != "stages";
  }

  void add_sequences() {
    Statement rows = database_.prepare(
        "SELECT old.id, new.id FROM shard.sequences AS old LEFT JOIN main.sequences AS new USING (name, "
        "fingerprint) "
        "ORDER BY old.id");
    struct Pair {
      std::int64_t from;
      std::int64_t to;
    };
    std::vector<Pair> pairs;
    while (rows.next()) pairs.push_back({rows.whole(0), rows.maybe_real(1) ? rows.whole(1) : 0});
    constexpr const char* kColumns =
        "name, title, path, fingerprint, frames, width, height, rate_hz, stress_scene, stress_knob, "
        "stress_level, "
        "stress_random";
    for (const Pair& pair : pairs) {
      if (pair.to != 0) {
        // True masks are put in with the first run that has masks, which may have come since.
        database_
            .prepare(
                "UPDATE main.truth SET mask = (SELECT mask FROM shard.truth AS old WHERE old.sequence_id = "
                "?1 AND "
                "old.frame = main.truth.frame) WHERE sequence_id = ?2 AND mask IS NULL")
            .bind(pair.from)
            .bind(pair.to)
            .run();
        continue;
      }
      database_
          .prepare(fmt::format(
              "INSERT INTO main.sequences ({0}) SELECT {0} FROM shard.sequences WHERE id = ?", kColumns))
          .bind(pair.from)
          .run();
      const std::int64_t to = database_.last_id();
      for (const auto& [table, columns] : kOfSequence) copy(table, columns, "sequence_id", pair.from, to);
    }
  }

  // The run of the study with that key.
  std::optional<RunRow> known_run(const RunKey& key) {
    Statement find = database_.prepare(
        "SELECT runs.id, failure IS NOT NULL, code, compiler, processor, has_stages, timed FROM main.runs "
        "JOIN main.builds ON builds.id = build_id WHERE tracker_id = ? AND sequence_id = ? AND protocol_id = "
        "? AND "
        "start = ? AND repeat = ?");
    find.bind(key.tracker).bind(key.sequence).bind(key.protocol).bind(key.start).bind(key.repeat);
    if (!find.next()) return std::nullopt;
    return RunRow{find.whole(0), find.whole(1) != 0, find.text(2),      find.text(3),
                  find.text(4),  find.whole(5) != 0, find.whole(6) != 0};
  }

  struct Coming {
    RunRow run;
    RunKey key;
    std::int64_t build = 0;
    std::string name;  // for words
  };

  std::vector<Coming> coming_runs() {
    Statement rows = database_.prepare(
        "SELECT old.id, old.failure IS NOT NULL, b.code, b.compiler, b.processor, old.has_stages, old.timed, "
        "mt.id, "
        "ms.id, mp.id, old.start, old.repeat, mb.id, t.name || ' on ' || s.name || ' under ' || p.name "
        "FROM shard.runs AS old "
        "JOIN shard.trackers AS t ON t.id = old.tracker_id "
        "JOIN main.trackers AS mt ON mt.name = t.name AND mt.params = t.params "
        "JOIN shard.sequences AS s ON s.id = old.sequence_id "
        "JOIN main.sequences AS ms ON ms.name = s.name AND ms.fingerprint = s.fingerprint "
        "JOIN shard.protocols AS p ON p.id = old.protocol_id "
        "JOIN main.protocols AS mp ON mp.name = p.name AND mp.params = p.params "
        "JOIN shard.builds AS b ON b.id = old.build_id "
        "JOIN main.builds AS mb ON mb.version = b.version AND mb.code = b.code AND mb.compiler = b.compiler "
        "AND "
        "mb.processor = b.processor AND mb.cores = b.cores AND mb.arithmetic = b.arithmetic ORDER BY old.id");
    std::vector<Coming> coming;
    while (rows.next())
      coming.push_back({{rows.whole(0), rows.whole(1) != 0, rows.text(2), rows.text(3), rows.text(4),
                         rows.whole(5) != 0, rows.whole(6) != 0},
                        {rows.whole(7), rows.whole(8), rows.whole(9), static_cast<int>(rows.whole(10)),
                         static_cast<int>(rows.whole(11))},
                        rows.whole(12),
                        rows.text(13)});
    return coming;
  }

  void add_runs() {
    for (const Coming& one : coming_runs()) {
      const std::optional<RunRow> known = known_run(one.key);
      if (known && !known->failed && !one.run.failed &&
          std::tuple(known->code, known->compiler, known->timed ? known->processor : "") !=
              std::tuple(one.run.code, one.run.compiler, one.run.timed ? one.run.processor : "")) {
        const RunRow& stays = one.run.rank() < known->rank() ? one.run : *known;
        summary_.conflicts.push_back(fmt::format("{}: made by {} and by {}; the study has that of {}",
                                                 one.name, known->made_by(), one.run.made_by(),
                                                 stays.made_by()));
      }
      if (known && !(one.run.rank() < known->rank())) {
        ++summary_.kept;
        continue;
      }
      if (known) database_.prepare("DELETE FROM main.runs WHERE id = ?").bind(known->id).run();
      put(one);
      ++(known ? summary_.replaced : summary_.added);
    }
  }

  void put(const Coming& one) {
    constexpr const char* kColumns =
        "timed, failure, source, highest_rate_hz, told_ms, peak_bytes, has_stages";
    Statement insert = database_.prepare(fmt::format(
        "INSERT INTO main.runs (tracker_id, sequence_id, protocol_id, start, repeat, build_id, {0}) "
        "SELECT ?, ?, ?, ?, ?, ?, {0} FROM shard.runs WHERE id = ?",
        kColumns));
    insert.bind(one.key.tracker).bind(one.key.sequence).bind(one.key.protocol).bind(one.key.start);
    insert.bind(one.key.repeat).bind(one.build).bind(one.run.id).run();
    const std::int64_t id = database_.last_id();
    for (const auto& [table, columns] : kOfRun) copy(table, columns, "run_id", one.run.id, id);
  }

  void read_planned(int shard) {
    Statement rows = database_.prepare(
        "SELECT old.tracker_place, old.sequence_place, old.rowid, label, sweep, mt.id, ms.id, mp.id, start, "
        "repeat "
        "FROM shard.planned AS old "
        "JOIN shard.trackers AS t ON t.id = old.tracker_id "
        "JOIN main.trackers AS mt ON mt.name = t.name AND mt.params = t.params "
        "JOIN shard.sequences AS s ON s.id = old.sequence_id "
        "JOIN main.sequences AS ms ON ms.name = s.name AND ms.fingerprint = s.fingerprint "
        "JOIN shard.protocols AS p ON p.id = old.protocol_id "
        "JOIN main.protocols AS mp ON mp.name = p.name AND mp.params = p.params ORDER BY old.rowid");
    while (rows.next())
      planned_.push_back({rows.whole(0),
                          rows.whole(1),
                          shard,
                          rows.whole(2),
                          rows.text(3),
                          rows.text(4),
                          {rows.whole(5), rows.whole(6), rows.whole(7), static_cast<int>(rows.whole(8)),
                           static_cast<int>(rows.whole(9))}});
    Statement sets = database_.prepare(
        "SELECT sets.name, ms.id FROM shard.sets JOIN shard.sequences AS s ON s.id = sequence_id "
        "JOIN main.sequences AS ms ON ms.name = s.name AND ms.fingerprint = s.fingerprint ORDER BY "
        "sets.rowid");
    while (sets.next()) sets_.emplace_back(sets.text(0), sets.whole(1));
  }

  Database& database_;
  MergeSummary& summary_;
  std::vector<Planned> planned_;  // of all shards so far
  std::vector<std::pair<std::string, std::int64_t>> sets_;
};

}  // namespace

MergeSummary merge_shards(const fs::path& folder) {
  const std::vector<ShardFile> files = shard_files(folder);
  MergeSummary summary;
  std::set<int> numbers;
  std::string plan;
  std::string title;
  for (const ShardFile& one : files) {
    Database shard(one.file, Database::Mode::read);
    check_study_form(shard);
    const std::string its_plan = fact(shard, "plan");
    if (plan.empty()) plan = its_plan;
    if (its_plan != plan)
      throw DataError({one.file},
                      fmt::format("is a shard of another plan than {}: remove the shards of the old plan",
                                  files.front().file.filename().string()));
    title = fact(shard, "title");
    numbers.insert(one.shard.number);
  }
  const int count = files.front().shard.count;
  for (int number = 1; number <= count; ++number)
    if (!numbers.contains(number)) summary.missing_shards.push_back(shard_text({number, count}));
  StudyWriter writer(folder);
  Merger merger(writer, summary);
  for (const ShardFile& one : files) merger.add(one);
  merger.plan();
  writer.set_title(title);
  return summary;
}

}  // namespace mnemon
