// SPDX-License-Identifier: MIT
#include <mnemon/scene/scene_spec.hpp>

#include <algorithm>

#include <fmt/format.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {

extern const std::string_view kites_toml;  // mnemon/scene/kites.toml, put in by the build

namespace {

FlightKey parse_key(const TomlTable& table) {
  table.allow_only({"at", "x", "y", "size"});
  FlightKey key{table.number("at"), table.number("x"), table.number("y"), 1};
  if (table.has("size")) key.size = table.positive("size");
  if (!(key.at >= 0 && key.at <= 1)) throw DataError(table.place("at"), "'at' must be from 0 to 1");
  return key;
}

SceneSpec parse_scene(const TomlTable& table) {
  table.allow_only({"name", "title", "tags", "set", "key"});
  SceneSpec spec{table.text("name"), table.text("title"), table.texts("tags"), {}, {}};
  if (table.has("set")) spec.set = table.table("set").params(schema_of<SceneParams>(), spec.name);
  for (const TomlTable& key : table.tables("key")) {
    spec.keys.push_back(parse_key(key));
    if (spec.keys.size() > 1 && spec.keys.back().at <= spec.keys[spec.keys.size() - 2].at)
      throw DataError(key.place("at"), "keys must come in the order of their 'at'");
  }
  if (spec.keys.empty())
    throw DataError(table.place(), fmt::format("scene '{}' has no [[scene.key]]", spec.name));
  return spec;
}

}  // namespace

void SceneParams::check() const {
  const double middle = hidden_at * (frames - 1);
  if (hidden_frames > 0 && (middle - hidden_frames / 2.0 < 0 || middle + hidden_frames / 2.0 > frames - 1))
    throw CallError(fmt::format("hidden_frames = {} around hidden_at = {} does not fit into frames = {}",
                                hidden_frames, hidden_at, frames));
}

std::vector<SceneSpec> parse_scenes(std::string_view text, const std::filesystem::path& file) {
  const TomlFile toml(text, file);
  const TomlTable root = toml.root();
  root.check_format("mnemon-scenes/1");
  root.allow_only({"format", "scene"});
  std::vector<SceneSpec> scenes;
  for (const TomlTable& scene : root.tables("scene")) scenes.push_back(parse_scene(scene));
  return scenes;
}

const std::vector<SceneSpec>& demo_scenes() {
  static const std::vector<SceneSpec> scenes = parse_scenes(kites_toml, "kites.toml");
  return scenes;
}

const SceneSpec& demo_scene(std::string_view name) {
  const auto& scenes = demo_scenes();
  const auto at = std::ranges::find(scenes, name, &SceneSpec::name);
  if (at != scenes.end()) return *at;
  std::vector<std::string> names;
  for (const SceneSpec& scene : scenes) names.push_back(scene.name);
  throw CallError(fmt::format("there is no scene '{}'{}", name, name_hint(name, names)));
}

}  // namespace mnemon
