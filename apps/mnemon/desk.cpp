// SPDX-License-Identifier: MIT
#include <mnemon/desk/server.hpp>

#include <algorithm>
#include <filesystem>
#include <memory>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/scene/scene_spec.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "plugins.hpp"
#include "progress.hpp"
#include "tracker_choice.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

struct Options {
  std::string input = "crossing";
  std::string to = "desk";
  std::string tracker;
  std::string settings;
  std::vector<std::string> set;
  std::vector<std::string> plugins;
  int port = 0;
};

// What is to be worked on: what is there under that name, or else a scene of the demo, which is rendered first.
std::string input_of(const Options& options, const Interruption& interruption) {
  std::error_code code;
  if (options.input == "-")
    throw CallError(
        "the desk goes to any frame at any time, and standard input brings each one once; save the frames "
        "first");
  if (options.input.starts_with("camera:") || fs::exists(options.input, code)) return options.input;
  const auto& scenes = demo_scenes();
  if (std::ranges::find(scenes, options.input, &SceneSpec::name) == scenes.end()) return options.input;
  const fs::path folder = fs::path(options.to) / "scenes" / options.input;
  if (!fs::exists(folder / "sequence.toml")) {
    ProgressLine line("rendering " + options.input);
    render_sequence(
        Scene(demo_scene(options.input), {}, 1), folder, 0,
        [&](int done, int total) {
          line.show(done, total);
          interruption.check();
        },
        FrameForm::jpeg, false);
  }
  return folder.string();
}

void run(const Options& options) {
  if (options.port > 65535) throw CallError(fmt::format("--port {}: ports go to 65535", options.port));
  const Catalogue catalogue = catalogue_with(options.plugins);
  TrackerSettings settings = chosen_tracker(options.tracker, options.settings, options.set, catalogue);
  const Interruption interruption;
  Desk desk(catalogue, {input_of(options, interruption), options.to, std::move(settings)});
  DeskServer server(desk, options.port);
  print_text(fmt::format("The desk is at {}\nWhat you keep goes to {}. Ctrl-C ends it.\n", server.address(),
                         plain_line(fs::absolute(options.to).lexically_normal().string())));
  flush_output();
  server.serve(interruption.interrupt());
}

}  // namespace

void add_desk(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("desk", "Mark, look, tune, correct and label on a page of this machine.",
                          "mnemon desk demo/kites/crossing --to mine");
  verb.text("INPUT", "", options->input,
            "a sequence, a folder of sequences or pictures, a video, camera:DEVICE, camera:sim:SEQUENCE, or "
            "the name of "
            "a demo scene (default: crossing)");
  verb.text("--to", "DIR", options->to,
            "the folder for what is kept; nothing is written elsewhere (default: desk)");
  verb.text("--tracker", "NAME", options->tracker,
            fmt::format("the first tracker; the page can choose another (default: {})", kUsualTracker));
  verb.text("--settings", "FILE", options->settings, "tracker and parameters from a settings file");
  verb.texts("--set", "KEY=VAL", options->set, "a parameter (repeatable)");
  verb.texts("--plugin", "FILE", options->plugins, "a shared library with further trackers (repeatable)");
  verb.whole("--port", 0, options->port, "the port of 127.0.0.1 to listen on (default: any that is free)");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
