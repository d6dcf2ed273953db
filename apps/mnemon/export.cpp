// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/study/export.hpp>
#include <mnemon/study/score_record.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  std::string to;
  bool overwrite = false;
  bool json = false;
};

void run(const Options& options) {
  const Interruption interruption;
  const int traces = export_study(options.folder, options.to, options.overwrite);
  interruption.check();
  if (options.json)
    print_json(Json{{"folder", options.to}, {"traces", traces}});
  else
    print("{}: scores.csv, curves.csv, losses.csv, traces.csv and {} traces\n", options.to, traces);
}

}  // namespace

void add_export(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("export", "Write a study's traces and scores as plain text.",
                          "mnemon export demo/study --to demo-text");
  verb.text("DIR", "", options->folder, "the study's folder", Need::required);
  verb.text("--to", "DIR", options->to, "the folder to write, which is new or empty", Need::required);
  verb.flag("--overwrite", options->overwrite, "replace what an earlier export left in DIR");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
