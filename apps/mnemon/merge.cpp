// SPDX-License-Identifier: MIT
#include <filesystem>
#include <memory>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <mnemon/study/merge.hpp>
#include <mnemon/study/study.hpp>

#include "output.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string folder;
  bool json = false;
};

void run(const Options& options) {
  const MergeSummary summary = merge_shards(options.folder);
  const std::string file = (std::filesystem::path(options.folder) / kStudyFile).string();
  if (options.json) {
    print_json({{"study", file},
                {"added", summary.added},
                {"kept", summary.kept},
                {"replaced", summary.replaced},
                {"planned", summary.planned},
                {"missing_shards", summary.missing_shards},
                {"conflicts", summary.conflicts}});
    return;
  }
  print("{} runs added, {} kept, {} replaced; {} are planned.\n", summary.added, summary.kept,
        summary.replaced, summary.planned);
  for (const std::string& conflict : summary.conflicts) print("Made twice: {}.\n", conflict);
  if (!summary.missing_shards.empty())
    app::print("Not there yet: {}. Merge again when they are.\n", fmt::join(summary.missing_shards, ", "));
  print("Study: {}. Write its page with 'mnemon report {}'.\n", file, options.folder);
}

}  // namespace

void add_merge(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb =
      program.add("merge", "Put the shards of a study together, those that are there.", "mnemon merge study");
  verb.text("DIR", "", options->folder, "the study's folder, with the shards in its shards/", Need::required);
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
