// SPDX-License-Identifier: MIT
#include <mnemon/study/plan.hpp>

#include <algorithm>
#include <map>
#include <memory>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <fnmatch.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/scene/scene_spec.hpp>
#include <mnemon/sequence/import_set.hpp>
#include <mnemon/sequence/toml_file.hpp>
#include <mnemon/study/export.hpp>
#include <mnemon/study/settings.hpp>
#include <mnemon/study/sweep.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr const char* kEveryTracker = "*";
// Repeats of a run, or sequences of a level: a plan with more was written wrongly.
constexpr int kMostOfOne = 10000;

std::vector<fs::path> parse_sequences(const TomlTable& root, const fs::path& folder) {
  std::vector<fs::path> sequences;
  std::map<std::string, fs::path> by_name;
  for (const std::string& pattern : root.texts("sequences")) {
    const auto folders = folders_like(folder / pattern);
    if (folders.empty())
      throw DataError(root.place("sequences"), fmt::format("no folder is like '{}', from {}", pattern,
                                                           fs::absolute(folder).lexically_normal().string()));
    for (const fs::path& found : folders) {
      const fs::path place = fs::weakly_canonical(found);
      const std::string name = place.filename().string();
      const auto [at, is_new] = by_name.emplace(name, found);
      if (!is_new && fs::weakly_canonical(at->second) == place) continue;
      if (!is_new)
        throw DataError(root.place("sequences"), fmt::format("two sequences are called '{}': {} and {}", name,
                                                             at->second.string(), found.string()));
      sequences.push_back(found);
    }
  }
  if (sequences.empty()) throw DataError(root.place("sequences"), "the plan has no sequences");
  return sequences;
}

// The parameters of a protocol stand in a table of its own, [protocol.restart].
std::vector<Protocol> parse_protocols(const TomlTable& root) {
  const std::vector<std::string> names =
      root.has("protocols") ? root.texts("protocols") : std::vector<std::string>{protocol_names().front()};
  if (names.empty()) throw DataError(root.place("protocols"), "the plan has no protocols");
  std::vector<Protocol> protocols;
  for (const std::string& name : names) {
    if (std::ranges::find(protocols, name, &Protocol::name) != protocols.end())
      throw DataError(root.place("protocols"), fmt::format("'{}' is there twice", name));
    try {
      protocols.push_back(make_protocol(name));
    } catch (const CallError& error) {
      throw DataError(root.place("protocols"), error.what());
    }
  }
  if (!root.has("protocol")) return protocols;
  const TomlTable settings = root.table("protocol");
  for (const std::string& name : settings.keys()) {
    const auto at = std::ranges::find(protocols, name, &Protocol::name);
    if (at == protocols.end())
      throw DataError(settings.place(name),
                      fmt::format("'{}' is not among the plan's protocols{}", name, name_hint(name, names)));
    const auto entry = std::ranges::find(protocol_entries(), name, &ProtocolEntry::name);
    *at = make_protocol(name, settings.table(name).params(entry->schema, name));
  }
  return protocols;
}

// Those of the plan's protocols that an entry is run under.
std::vector<std::string> parse_own_protocols(const TomlTable& table, const std::vector<Protocol>& protocols) {
  if (!table.has("protocols")) return {};
  std::vector<std::string> known;
  for (const Protocol& protocol : protocols) known.push_back(protocol.name);
  std::vector<std::string> own = table.texts("protocols");
  if (own.empty()) throw DataError(table.place("protocols"), "the tracker has no protocols");
  for (const std::string& name : own)
    if (std::ranges::find(known, name) == known.end())
      throw DataError(table.place("protocols"),
                      fmt::format("'{}' is not among the plan's protocols{}", name, name_hint(name, known)));
  return own;
}

// Nothing where the plan says nothing of how boxes are listed, so that they are traces.
std::optional<BoxListForm> parse_box_form(const TomlTable& table) {
  if (!table.has("columns") && !table.has("one_based") && !table.has("absent")) return std::nullopt;
  BoxListForm form;
  if (table.has("columns"))
    for (const std::string_view name : parts_of(table.text("columns"), ',')) form.columns.emplace_back(name);
  if (table.has("one_based")) form.one_based = table.flag("one_based");
  try {
    if (table.has("absent")) form.absent = absent_marks(table.texts("absent"));
    // What makes no box is wrong whatever the files hold.
    check_columns(form);
  } catch (const CallError& error) {
    throw DataError(table.place(table.has("columns") ? "columns" : "absent"), error.what());
  }
  return form;
}

// How often each run was made whose traces are in a folder, by the names that exports give them.
int repeats_in(const fs::path& folder) {
  int repeats = 1;
  for (const auto& entry : fs::directory_iterator(folder)) {
    const std::string name = entry.path().stem().string();
    const std::size_t at = name.rfind(kRepeatMark);
    if (at == std::string::npos) continue;
    const auto repeat = parse_whole(name.substr(at + kRepeatMark.size()));
    if (repeat && *repeat > 0 && *repeat < kMostOfOne) repeats = std::max(repeats, *repeat + 1);
  }
  return repeats;
}

PlannedTracker parse_traces(const TomlTable& table, const fs::path& folder,
                            const std::vector<Protocol>& protocols) {
  table.allow_only({"label", "traces", "columns", "one_based", "absent", "protocols"});
  PlannedTracker tracker;
  tracker.name = "traces";
  fs::path pattern = folder / table.text("traces");
  tracker.traces = folders_like(pattern);
  while (pattern.filename().string().find_first_of("*?[") != std::string::npos)
    pattern = pattern.parent_path();
  tracker.label = table.has("label") ? table.text("label") : pattern.filename().string();
  tracker.form = parse_box_form(table);
  tracker.protocols = parse_own_protocols(table, protocols);
  if (tracker.traces.empty() || !fs::is_directory(tracker.traces.front()))
    throw DataError(table.place("traces"),
                    fmt::format("there is no folder {}",
                                fs::absolute(folder / table.text("traces")).lexically_normal().string()));
  tracker.repeats = tracker.traces.size() > 1 ? static_cast<int>(tracker.traces.size())
                                              : repeats_in(tracker.traces.front());
  return tracker;
}

void check_repeats(const PlannedTracker& tracker, const TrackerEntry& entry, const TomlTable& table) {
  if (tracker.repeats < 1 || tracker.repeats > kMostOfOne)
    throw DataError(table.place("repeats"), fmt::format("'repeats' must be from 1 to {}", kMostOfOne));
  const Field* field = entry.schema.find(kRandomSeed);
  if (tracker.repeats > 1 && (field == nullptr || !std::holds_alternative<int>(field->standard)))
    throw DataError(
        table.place("repeats"),
        fmt::format("'{}' has no parameter '{}': it answers alike every time", tracker.name, kRandomSeed));
}

// All that there are, as they come.
std::vector<PlannedTracker> every_tracker(const TomlTable& table, const Catalogue& catalogue,
                                          const std::vector<Protocol>& protocols) {
  table.allow_only({"name", "protocols"});
  std::vector<PlannedTracker> all;
  for (const TrackerEntry& entry : catalogue.entries()) {
    PlannedTracker tracker;
    tracker.name = tracker.label = entry.name;
    tracker.protocols = parse_own_protocols(table, protocols);
    all.push_back(tracker);
  }
  return all;
}

constexpr double kMostLimit = 1e9;
constexpr double kMostCropsMb = 10000;

// What a process is told may be anything: its parameters are described by the values that the plan gives them.
Schema schema_of_process(const ParamSet& set) {
  Schema schema;
  for (const auto& [name, value] : set) {
    Field field{name, value, {-1e300, 1e300}, {}, "", ""};
    if (std::holds_alternative<int>(value)) field.standard = static_cast<double>(std::get<int>(value));
    schema.fields.push_back(field);
  }
  return schema;
}

ProcessSpec parse_limits(const TomlTable& table) {
  ProcessSpec spec;
  const auto limit = [&table](const char* key) {
    const double value = table.positive(key);
    if (value > kMostLimit) throw DataError(table.place(key), fmt::format("'{}' is to be at most 1e9", key));
    return value;
  };
  if (table.has("step_limit_ms")) spec.step_limit_ms = limit("step_limit_ms");
  if (table.has("start_limit_s")) spec.start_limit_s = limit("start_limit_s");
  if (table.has("memory_limit_mb")) spec.limits.memory_mb = limit("memory_limit_mb");
  return spec;
}

// The entry of a process and the variations of its sweep.
std::vector<PlannedTracker> parse_process(const TomlTable& table, const fs::path& folder,
                                          const std::vector<Protocol>& protocols) {
  table.allow_only({"label", "command", "set", "sweep", "sample", "repeats", "protocols", "step_limit_ms",
                    "start_limit_s", "memory_limit_mb"});
  PlannedTracker tracker;
  tracker.name = kProcessName;
  tracker.label = table.text("label");
  if (tracker.label.empty()) throw DataError(table.place("label"), "'label' must not be empty");
  tracker.protocols = parse_own_protocols(table, protocols);
  tracker.process = parse_limits(table);
  tracker.process->command = table.texts("command");
  tracker.process->folder = fs::absolute(folder).lexically_normal();
  tracker.process->home = std::make_shared<ProcessHome>();
  if (tracker.process->command.empty() || tracker.process->command.front().empty())
    throw DataError(table.place("command"), "'command' names no program");
  if (table.has("repeats")) tracker.repeats = table.whole("repeats");
  if (tracker.repeats < 1 || tracker.repeats > kMostOfOne)
    throw DataError(table.place("repeats"), fmt::format("'repeats' must be from 1 to {}", kMostOfOne));
  if (table.has("set")) tracker.set = table.table("set").free_params();
  if (tracker.set.contains(kProcessName))
    throw DataError(table.place("set"), "a parameter of a process cannot be called 'process'");
  try {
    ParamSet set = tracker.set;
    static_cast<void>(ShownFrames({.width = take_width(set, tracker.label)}));
  } catch (const CallError& error) {
    throw DataError(table.place("set"), error.what());
  }
  std::vector<PlannedTracker> all{tracker};
  if (!table.has("sweep")) return all;
  std::optional<int> sample;
  if (table.has("sample")) sample = table.whole("sample");
  for (const ParamSet& point :
       sweep_points(table.table("sweep"), schema_of_process(tracker.set), tracker.label, sample)) {
    PlannedTracker varied = tracker;
    for (const auto& [name, value] : point) varied.set[name] = value;
    varied.label = fmt::format("{}: {}", tracker.label, point_text(point));
    varied.sweep = tracker.label;
    all.push_back(varied);
  }
  return all;
}

// A tracker of the library that is to run in a process of its own.
ProcessSpec isolated(const TomlTable& table, const std::string& name, bool is_of_library,
                     const fs::path& own_program) {
  if (own_program.empty() || !is_of_library)
    throw DataError(table.place("isolated"),
                    fmt::format("'{}' cannot be isolated: {}", name,
                                is_of_library ? "this program does not serve trackers as processes"
                                              : "name the program that serves it with 'command' instead"));
  ProcessSpec spec = parse_limits(table);
  spec.command = {own_program.string(), "process", name};
  spec.home = std::make_shared<ProcessHome>();
  return spec;
}

// The entry itself and the variations of its sweep.
std::vector<PlannedTracker> parse_tracker(const TomlTable& table, const Catalogue& catalogue,
                                          const fs::path& folder, const std::vector<Protocol>& protocols,
                                          const fs::path& own_program) {
  if (table.has("traces")) return {parse_traces(table, folder, protocols)};
  if (table.has("command")) return parse_process(table, folder, protocols);
  if (table.has("name") && table.text("name") == kEveryTracker)
    return every_tracker(table, catalogue, protocols);
  table.allow_only({"name", "label", "set", "repeats", "sweep", "sample", "traces", "protocols", "settings",
                    "isolated", "step_limit_ms", "start_limit_s", "memory_limit_mb"});
  PlannedTracker tracker;
  TrackerSettings settings;
  if (table.has("settings")) settings = read_settings(folder / table.text("settings"), catalogue);
  tracker.name = table.has("name") || settings.tracker.empty() ? table.text("name") : settings.tracker;
  if (!settings.tracker.empty() && settings.tracker != tracker.name)
    throw DataError(table.place("settings"), fmt::format("the settings are those of '{}', not of '{}'",
                                                         settings.tracker, tracker.name));
  tracker.label = table.has("label") ? table.text("label") : tracker.name;
  if (tracker.label.empty()) throw DataError(table.place("label"), "'label' must not be empty");
  tracker.protocols = parse_own_protocols(table, protocols);
  std::vector<PlannedTracker> all;
  try {
    const TrackerEntry& entry = catalogue.entry(tracker.name);
    if (table.has("set")) tracker.set = table.table("set").params(entry.schema, tracker.name);
    tracker.set.merge(settings.set);  // what stands in the plan itself goes first
    if (table.has("repeats")) tracker.repeats = table.whole("repeats");
    check_repeats(tracker, entry, table);
    if (table.has("isolated") && table.flag("isolated"))
      tracker.process = isolated(table, tracker.name, entry.is_of_library, own_program);
    else if (table.has("step_limit_ms") || table.has("start_limit_s") || table.has("memory_limit_mb"))
      throw DataError(table.place("name"),
                      "limits of its own are for a tracker in a process: add isolated = true");
    all.push_back(tracker);
    if (table.has("sample") && !table.has("sweep"))
      throw DataError(table.place("sample"), "'sample' belongs to a 'sweep', and there is none");
    std::optional<int> sample;
    if (table.has("sample")) sample = table.whole("sample");
    if (sample && (*sample < 1 || *sample > 10000))
      throw DataError(table.place("sample"), "'sample' must be from 1 to 10000");
    if (table.has("sweep"))
      for (const ParamSet& point : sweep_points(table.table("sweep"), entry.schema, tracker.name, sample)) {
        PlannedTracker varied = tracker;
        for (const auto& [name, value] : point) varied.set[name] = value;
        varied.label = fmt::format("{}: {}", tracker.label, point_text(point));
        varied.sweep = tracker.label;
        all.push_back(varied);
      }
    for (const PlannedTracker& one : all)
      static_cast<void>(entry.make(one.set));  // what only a tracker itself can check
  } catch (const CallError& error) {
    throw DataError(table.place("name"), error.what());
  }
  return all;
}

PlannedStress parse_stress(const TomlTable& table) {
  table.allow_only({"scene", "knob", "levels", "random", "frames"});
  PlannedStress stress{table.text("scene"), table.text("knob"), table.numbers("levels"), 10, {}};
  if (table.has("random")) stress.random = table.whole("random");
  if (stress.random < 1 || stress.random > kMostOfOne)
    throw DataError(table.place("random"), fmt::format("'random' must be from 1 to {}", kMostOfOne));
  if (table.has("frames")) stress.frames = table.whole("frames");
  for (std::size_t i = 1; i < stress.levels.size(); ++i)
    if (!(stress.levels[i] > stress.levels[i - 1]))
      throw DataError(table.place("levels"), "'levels' must rise");
  try {
    for (const double level : stress.levels) {
      ParamSet set = demo_scene(stress.scene).set;
      set[stress.knob] = level;
      if (stress.frames) set["frames"] = *stress.frames;
      bound_params<SceneParams>(set, stress.scene).check();
    }
  } catch (const CallError& error) {
    throw DataError(table.place("knob"), error.what());
  }
  return stress;
}

bool parse_keep_stages(const TomlTable& root) {
  const std::string when = root.text("keep_stages");
  if (when != "losses" && when != "never")
    throw DataError(
        root.place("keep_stages"),
        fmt::format("'keep_stages' is \"losses\" or \"never\" (where it is left out), not \"{}\"", when));
  return when == "losses";
}

double parse_crops_mb(const TomlTable& root) {
  const double room = root.number("crops_mb");
  if (!(room >= 0 && room <= kMostCropsMb))
    throw DataError(root.place("crops_mb"), fmt::format("'crops_mb' is from 0 to {:g} MB", kMostCropsMb));
  return room;
}

// Sets name sequences of the plan, with the same wildcards.
PlannedSet parse_set(const TomlTable& table, const Plan& plan) {
  table.allow_only({"name", "sequences"});
  PlannedSet set{table.text("name"), {}};
  if (set.name.empty()) throw DataError(table.place("name"), "'name' must not be empty");
  if (std::ranges::find(plan.sets, set.name, &PlannedSet::name) != plan.sets.end())
    throw DataError(table.place("name"), fmt::format("two sets are called '{}'", set.name));
  std::vector<std::string> known;
  for (const fs::path& folder : plan.sequences)
    known.push_back(fs::weakly_canonical(folder).filename().string());
  for (const std::string& pattern : table.texts("sequences")) {
    const std::size_t before = set.sequences.size();
    for (const std::string& name : known)
      if (::fnmatch(pattern.c_str(), name.c_str(), 0) == 0 &&
          std::ranges::find(set.sequences, name) == set.sequences.end())
        set.sequences.push_back(name);
    if (set.sequences.size() == before)
      throw DataError(table.place("sequences"), fmt::format("no further sequence of the plan is like '{}'{}",
                                                            pattern, name_hint(pattern, known)));
  }
  return set;
}

void check_labels(const Plan& plan, const TomlTable& root) {
  std::set<std::string> labels;
  for (const PlannedTracker& tracker : plan.trackers)
    if (!labels.insert(tracker.label).second)
      throw DataError(root.place("tracker"),
                      fmt::format("two trackers are labelled '{}'; give one another 'label'", tracker.label));
}

}  // namespace

std::vector<fs::path> plugins_of_plan(const fs::path& file) {
  const TomlFile toml(file);
  const TomlTable root = toml.root();
  std::vector<fs::path> plugins;
  if (!root.has("plugins")) return plugins;
  for (const std::string& name : root.texts("plugins")) plugins.push_back(file.parent_path() / name);
  return plugins;
}

Plan read_plan(const fs::path& file, const Catalogue& catalogue, const fs::path& own_program) {
  const TomlFile toml(file);
  const TomlTable root = toml.root();
  root.check_format("mnemon-plan/1");
  root.allow_only({"format", "title", "sequences", "protocols", "protocol", "step_limit_ms", "tracker",
                   "stress", "plugins", "keep_stages", "crops_mb", "set"});
  const fs::path folder = file.has_parent_path() ? file.parent_path() : ".";
  Plan plan;
  plan.title = root.has("title") ? root.text("title") : file.stem().string();
  plan.protocols = parse_protocols(root);
  for (const TomlTable& table : root.tables("tracker"))
    for (PlannedTracker& tracker : parse_tracker(table, catalogue, folder, plan.protocols, own_program))
      plan.trackers.push_back(std::move(tracker));
  if (plan.trackers.empty()) throw DataError({file}, "the plan has no [[tracker]]");
  check_labels(plan, root);
  if (root.has("keep_stages")) plan.keep_stages = parse_keep_stages(root);
  if (root.has("crops_mb")) plan.crops_mb = parse_crops_mb(root);
  if (root.has("step_limit_ms")) plan.step_limit_ms = root.positive("step_limit_ms");
  for (const TomlTable& table : root.tables("stress")) plan.stress.push_back(parse_stress(table));
  if (root.has("sequences") || plan.stress.empty()) plan.sequences = parse_sequences(root, folder);
  for (const TomlTable& table : root.tables("set")) plan.sets.push_back(parse_set(table, plan));
  return plan;
}

void limit_protocols(Plan& plan, const std::vector<std::string>& names) {
  if (names.empty()) return;
  std::vector<std::string> known;
  for (const Protocol& protocol : plan.protocols) known.push_back(protocol.name);
  for (const std::string& name : names)
    if (std::ranges::find(known, name) == known.end())
      throw CallError(fmt::format("the plan has no protocol '{}'{}; it has {}", name, name_hint(name, known),
                                  fmt::join(known, ", ")));
  std::erase_if(plan.protocols, [&](const Protocol& protocol) {
    return std::ranges::find(names, protocol.name) == names.end();
  });
}

}  // namespace mnemon
