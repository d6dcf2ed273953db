// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>

#include <mnemon/report/comparison.hpp>
#include <mnemon/report/page.hpp>
#include <mnemon/report/table.hpp>

#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  bool json = false;
};

void run(const Options& options) {
  const Study study = read_study(options.folder);
  const std::filesystem::path page = write_report(study, options.folder);
  if (options.json) {
    Json json = study_json(study);
    json["page"] = page.string();
    fmt::print("{}\n", json.dump(2));
    return;
  }
  const std::string comparison = comparison_text(study);
  fmt::print("{}\n{}{}Page: {}\nFigures: {}\n", table_text(summary_table(study)), comparison,
             comparison.empty() ? "" : "\n", page.string(), (page.parent_path() / "figures").string());
}

}  // namespace

void add_report(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb =
      program.add("report", "Turn a study into a page, figures and tables.", "mnemon report demo/study");
  verb.text("DIR", "", options->folder, "the study's folder; the page goes into its report/", Need::required);
  verb.flag("--json", options->json, "print JSON, with every score");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
