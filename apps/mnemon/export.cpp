// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>

#include <mnemon/study/export.hpp>
#include <mnemon/study/score_record.hpp>

#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  std::string to;
  bool json = false;
};

void run(const Options& options) {
  const Study study = read_study(options.folder);
  export_study(study, options.to);
  if (options.json)
    fmt::print("{}\n", Json{{"folder", options.to}, {"traces", study.runs.size()}}.dump(2));
  else
    fmt::print("{}: scores.csv, curves.csv and {} traces\n", options.to, study.runs.size());
}

}  // namespace

void add_export(CLI::App& program) {
  const auto options = std::make_shared<Options>();
  CLI::App* verb = add_verb(program, "export", "Write a study's traces and scores as plain text.",
                            "mnemon export demo/study --to demo-text");
  verb->add_option("DIR", options->folder, "the study's folder")->required();
  verb->add_option("--to", options->to, "the folder to write, which is new or empty")
      ->required()
      ->type_name("DIR");
  verb->add_flag("--json", options->json, "print JSON");
  verb->callback([options] { run(*options); });
}

}  // namespace mnemon::app
