// SPDX-License-Identifier: MIT
#include <mnemon/scene/scene_spec.hpp>

#include <algorithm>
#include <array>

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

constexpr std::array<std::string_view, 4> kTargets{"kite", "streamer", "balloon", "beacon"};

TargetKind parse_target(const TomlTable& table) {
  const std::string name = table.text("target");
  const auto at = std::ranges::find(kTargets, name);
  if (at != kTargets.end()) return static_cast<TargetKind>(at - kTargets.begin());
  const std::vector<std::string> known(kTargets.begin(), kTargets.end());
  throw DataError(table.place("target"), fmt::format("'{}' is no target{}", name, name_hint(name, known)));
}

SceneSpec parse_scene(const TomlTable& table) {
  table.allow_only({"name", "title", "target", "tags", "set", "key"});
  SceneSpec spec{table.text("name"), table.text("title"), TargetKind::kite, {}, {}, {}};
  if (table.has("target")) spec.target = parse_target(table);
  if (table.has("tags")) spec.tags = table.texts("tags");
  if (table.has("set")) spec.set = table.table("set").params(schema_of<SceneParams>(), spec.name);
  for (const TomlTable& key : table.tables("key")) {
    spec.keys.push_back(parse_key(key));
    if (spec.keys.size() > 1 && spec.keys.back().at <= spec.keys[spec.keys.size() - 2].at)
      throw DataError(key.place("at"), "keys must come in the order of their 'at'");
  }
  if (spec.keys.empty() && spec.target != TargetKind::balloon)
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

std::vector<std::string> knob_tags(const SceneParams& params) {
  std::vector<std::string> tags;
  const auto add = [&](const char* tag, double level) {
    if (level > 0) tags.emplace_back(tag);
  };
  add("occlusion", params.occlusion + params.thicket);
  add("out-of-view", params.out_of_view);
  add("scale", params.scale);
  add("rotation", params.rotation);
  add("aspect", params.aspect);
  add("deformation", params.deformation);
  add("blur", params.blur);
  add("fast", params.fast);
  add("light", params.light);
  add("lookalike", params.lookalike);
  add("clutter", params.clutter + params.thicket);
  add("small", params.small);
  add("camera-motion", params.camera_motion);
  add("noise", params.noise);
  return tags;
}

}  // namespace mnemon
