// SPDX-License-Identifier: MIT
#include <algorithm>
#include <filesystem>
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/scene/scene.hpp>
#include <mnemon/study/score_record.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::vector<std::string> names;
  std::string to;
  std::vector<std::string> set;
  std::uint64_t random = 1;
  int jobs = 0;
  bool png = false;
  bool overwrite = false;
  bool json = false;
};

std::string knob_text() {
  std::string text = "change a knob on every scene, as name=value (repeatable):";
  for (const Field& field : schema_of<SceneParams>().fields)
    text += fmt::format("\n{}: {} {}; {} unless the scene has its own.", field.name, field.help,
                        allowed_text(field), to_text(field.standard));
  return text;
}

void run(const Options& options) {
  std::vector<SceneSpec> specs;
  for (const std::string& name : options.names) specs.push_back(demo_scene(name));
  if (options.names.empty()) specs = demo_scenes();
  ParamSet set;
  for (const std::string& text : options.set) set_from_text(set, schema_of<SceneParams>(), "scene", text);
  std::vector<Scene> scenes;  // all made before any is written, so that a wrong knob leaves nothing behind
  for (const SceneSpec& spec : specs) scenes.emplace_back(spec, set, options.random);
  for (const SceneSpec& spec : specs)
    if (!options.overwrite && std::filesystem::exists(std::filesystem::path(options.to) / spec.name))
      throw CallError(fmt::format("{}: is already there; name another folder with --to, or say --overwrite",
                                  (std::filesystem::path(options.to) / spec.name).string()));
  const Interruption interruption;
  Json rows = Json::array();
  for (std::size_t i = 0; i < scenes.size(); ++i) {
    const std::filesystem::path folder = std::filesystem::path(options.to) / specs[i].name;
    ProgressLine line("rendering " + specs[i].name);
    render_sequence(
        scenes[i], folder, options.jobs,
        [&](int done, int total) {
          line.show(done, total);
          interruption.check();
        },
        options.png ? FrameForm::png : FrameForm::jpeg, options.overwrite);
    const auto absent = std::ranges::count(scenes[i].truth().rows, false, &TruthRow::present);
    rows.push_back({{"name", specs[i].name},
                    {"folder", folder.string()},
                    {"frames", scenes[i].params().frames},
                    {"absent_frames", absent}});
    if (!options.json)
      print("{}: {} frames, the target absent on {} of them\n", folder.string(), scenes[i].params().frames,
            absent);
  }
  if (options.json) print_json(rows);
}

}  // namespace

void add_scene(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("scene", "Render sequences of the demo scenario, with exact truth.",
                          "mnemon scene cloudbank --to mine --set hidden_frames=40 --random 7");
  std::string names;
  for (const SceneSpec& spec : demo_scenes()) names += (names.empty() ? "" : ", ") + spec.name;
  verb.texts("NAME", "", options->names, "which scenes (default: all): " + names);
  verb.text("--to", "DIR", options->to, "the folder to put the sequences into, each in one of its own",
            Need::required);
  verb.texts("--set", "KEY=VAL", options->set, knob_text());
  verb.random_number("--random", options->random, "draws other landscapes, colours and winds (default: 1)");
  verb.whole("--jobs", 1, options->jobs, "threads (default: as many as cores)");
  verb.flag("--png", options->png,
            "keep the frames as PNG, to the last bit, in ten times the room (default: JPEG)");
  verb.flag("--overwrite", options->overwrite, "replace sequences of these names that were rendered before");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
