// SPDX-License-Identifier: MIT
#include <filesystem>
#include <memory>
#include <string_view>

#include <fmt/format.h>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/report/page.hpp>
#include <mnemon/scene/scene.hpp>

#include "bench.hpp"
#include "interruption.hpp"
#include "output.hpp"
#include "progress.hpp"
#include "verbs.hpp"

namespace mnemon {

extern const std::string_view demo_plan;  // demo/plan.toml, put in by the build

}  // namespace mnemon

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

constexpr const char* kStamp = ".made-by-mnemon";

struct Options {
  std::string to = "demo";
};

// A folder with this stamp holds what this very build renders. One with another stamp is ours to make again;
// one without is somebody's.
void render_if_needed(const SceneSpec& spec, const fs::path& folder) {
  const std::string stamp = "demo scene of code " + build_facts().code + "\n";
  const bool is_there = fs::exists(folder);
  if (is_there && !fs::exists(folder / kStamp))
    throw CallError(
        fmt::format("{}: is there and was not made by 'mnemon demo'; move it away or name another place "
                    "with --to",
                    folder.string()));
  if (is_there && read_file(folder / kStamp) == stamp) return;
  if (is_there) fs::remove_all(folder);
  note("  {}\n", spec.name);
  ProgressLine line("rendering " + spec.name);
  const Interruption interruption;
  render_sequence(Scene(spec, {}, 1), folder, 0, [&](int done, int total) {
    line.show(done, total);
    interruption.check();
  });
  write_file(folder / kStamp, stamp);
}

void run(const Options& options) {
  const fs::path base = options.to;
  note("1 of 3: rendering {} sequences into {}\n", demo_scenes().size(), (base / "kites").string());
  for (const SceneSpec& spec : demo_scenes()) render_if_needed(spec, base / "kites" / spec.name);
  const fs::path plan_file = base / "plan.toml";
  if (!fs::exists(plan_file)) write_file(plan_file, demo_plan);
  const Catalogue catalogue = Catalogue::standard();
  const fs::path study_folder = base / "study";
  note("2 of 3: running {}\n", plan_file.string());
  const RunSummary summary = run_with_progress(read_plan(plan_file, catalogue), catalogue, study_folder, 0);
  const Study study = read_study(study_folder, {.runs = RunParts::figures});
  note("3 of 3: writing the page and its figures\n");
  print_study(study, summary, Pairs::left_out);
  const fs::path page = write_report(study, study_folder);
  print("Page: {}\n", page.string());
  if (summary.failed > 0)
    throw Error(
        fmt::format("{} of {} runs failed; what is said above tells why", summary.failed, summary.made));
}

}  // namespace

void add_demo(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb =
      program.add("demo",
                  "Make the demo sequences, benchmark every tracker on them, and write the report. What is "
                  "there already is kept.",
                  "mnemon demo --to demo");
  verb.text("--to", "DIR", options->to, "the folder for all of it (default: demo)");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
