// SPDX-License-Identifier: MIT
#include <mnemon/study/plan.hpp>

#include <algorithm>
#include <map>
#include <memory>

#include <fmt/format.h>
#include <glob.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/media/natural_order.hpp>
#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

std::vector<fs::path> folders_like(const fs::path& pattern) {
  glob_t found{};
  const std::unique_ptr<glob_t, decltype(&::globfree)> guard(&found, &::globfree);
  std::vector<fs::path> folders;
  if (::glob(pattern.c_str(), 0, nullptr, &found) != 0) return folders;
  for (std::size_t i = 0; i < found.gl_pathc; ++i)
    if (fs::is_directory(found.gl_pathv[i])) folders.emplace_back(found.gl_pathv[i]);
  std::ranges::sort(
      folders, [](const fs::path& a, const fs::path& b) { return comes_before(a.string(), b.string()); });
  return folders;
}

std::vector<fs::path> parse_sequences(const TomlTable& root, const fs::path& folder) {
  std::vector<fs::path> sequences;
  std::map<std::string, fs::path> by_name;
  for (const std::string& pattern : root.texts("sequences")) {
    const auto folders = folders_like(folder / pattern);
    if (folders.empty())
      throw DataError(root.place("sequences"), fmt::format("no folder is like '{}', from {}", pattern,
                                                           fs::absolute(folder).lexically_normal().string()));
    for (const fs::path& found : folders) {
      const std::string name = fs::weakly_canonical(found).filename().string();
      const auto [at, is_new] = by_name.emplace(name, found);
      if (!is_new && fs::equivalent(at->second, found)) continue;
      if (!is_new)
        throw DataError(root.place("sequences"), fmt::format("two sequences are called '{}': {} and {}", name,
                                                             at->second.string(), found.string()));
      sequences.push_back(found);
    }
  }
  if (sequences.empty()) throw DataError(root.place("sequences"), "the plan has no sequences");
  return sequences;
}

std::vector<std::string> parse_protocols(const TomlTable& root) {
  if (!root.has("protocols")) return {known_protocols().front()};
  std::vector<std::string> protocols = root.texts("protocols");
  for (const std::string& protocol : protocols)
    if (std::ranges::find(known_protocols(), protocol) == known_protocols().end())
      throw DataError(root.place("protocols"), fmt::format("'{}' is not a protocol{}", protocol,
                                                           name_hint(protocol, known_protocols())));
  if (protocols.empty()) throw DataError(root.place("protocols"), "the plan has no protocols");
  return protocols;
}

PlannedTracker parse_tracker(const TomlTable& table, const Catalogue& catalogue) {
  table.allow_only({"name", "label", "set"});
  PlannedTracker tracker{table.text("name"), "", {}};
  tracker.label = table.has("label") ? table.text("label") : tracker.name;
  if (tracker.label.empty()) throw DataError(table.place("label"), "'label' must not be empty");
  try {
    const TrackerEntry& entry = catalogue.entry(tracker.name);
    if (table.has("set")) tracker.set = table.table("set").params(entry.schema, tracker.name);
    static_cast<void>(entry.make(tracker.set));  // what only a tracker itself can check
  } catch (const CallError& error) {
    throw DataError(table.place("name"), error.what());
  }
  return tracker;
}

}  // namespace

const std::vector<std::string>& known_protocols() {
  static const std::vector<std::string> protocols{"single"};
  return protocols;
}

Plan read_plan(const fs::path& file, const Catalogue& catalogue) {
  const TomlFile toml(file);
  const TomlTable root = toml.root();
  root.check_format("mnemon-plan/1");
  root.allow_only({"format", "title", "sequences", "protocols", "tracker"});
  Plan plan;
  plan.title = root.has("title") ? root.text("title") : file.stem().string();
  for (const TomlTable& table : root.tables("tracker")) {
    plan.trackers.push_back(parse_tracker(table, catalogue));
    const std::string& label = plan.trackers.back().label;
    if (std::ranges::count(plan.trackers, label, &PlannedTracker::label) > 1)
      throw DataError(table.place(),
                      fmt::format("two trackers are labelled '{}'; give one another 'label'", label));
  }
  if (plan.trackers.empty()) throw DataError({file}, "the plan has no [[tracker]]");
  plan.protocols = parse_protocols(root);
  plan.sequences = parse_sequences(root, file.has_parent_path() ? file.parent_path() : ".");
  return plan;
}

}  // namespace mnemon
