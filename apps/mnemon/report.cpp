// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/page.hpp>
#include <mnemon/report/study_json.hpp>
#include <mnemon/report/study_text.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  bool pairs = false;
  bool json = false;
};

void run(const Options& options) {
  const Interruption interruption;
  const Study study = read_study(options.folder);
  const std::filesystem::path page = write_report(study, options.folder);
  interruption.check();
  if (options.json) {
    Json json = study_json(Results(study));
    json["page"] = page.string();
    print_json(json);
    return;
  }
  print("{}Page: {}\nFigures: {}\n",
        study_text(Results(study), Detail::means, options.pairs ? Pairs::listed : Pairs::left_out),
        page.string(), (page.parent_path() / "figures").string());
}

}  // namespace

void add_report(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb =
      program.add("report", "Turn a study into a page, figures and tables.", "mnemon report demo/study");
  verb.text("DIR", "", options->folder, "the study's folder; the page goes into its report/", Need::required);
  verb.flag("--pairs", options->pairs, "also say what can be said of every pair of trackers");
  verb.flag("--json", options->json, "print JSON, with every score");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
