// SPDX-License-Identifier: MIT
#include <memory>

#include <fmt/format.h>

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
  fmt::print("{}\nPage: {}\nFigures: {}\n", table_text(summary_table(study)), page.string(),
             (page.parent_path() / "figures").string());
}

}  // namespace

void add_report(CLI::App& program) {
  const auto options = std::make_shared<Options>();
  CLI::App* verb = add_verb(program, "report", "Turn a study into a page, figures and tables.",
                            "mnemon report demo/study");
  verb->add_option("DIR", options->folder, "the study's folder; the page goes into its report/")->required();
  verb->add_flag("--json", options->json, "print JSON, with every score");
  verb->callback([options] { run(*options); });
}

}  // namespace mnemon::app
