// SPDX-License-Identifier: MIT
#include "bench.hpp"

#include <algorithm>
#include <cstdlib>
#include <memory>
#include <set>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/report/study_json.hpp>
#include <mnemon/report/study_text.hpp>
#include <mnemon/study/slurm.hpp>

#include "cluster.hpp"
#include "output.hpp"
#include "plugins.hpp"
#include "progress.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

struct Options {
  std::string plan;
  std::string out;
  int jobs = 0;
  std::vector<std::string> protocols;
  std::vector<std::string> plugins;
  std::string shard;
  std::string cluster;
  SlurmRequest slurm;
  bool pairs = false;
  bool json = false;
};

// What the timed runs were timed on.
std::string times_text(const Study& study) {
  std::string text;
  std::set<std::string> named;
  for (const StudyRun& run : study.runs)
    if (run.timed && named.insert(study.builds[run.build].processor).second)
      text += (text.empty() ? " Times: one core of " : ", and one of ") + study.builds[run.build].processor;
  return text.empty() ? "" : text + ".";
}

// A share of the plan, into a file of its own: there is nothing to say of it before it is merged with the others.
void run_shard(const Plan& plan, const Catalogue& catalogue, const Options& options) {
  const Shard shard = parse_shard(options.shard);
  const RunSummary summary = run_with_progress(plan, catalogue, options.out, options.jobs, shard);
  const std::string file = shard_file(options.out, shard).string();
  if (options.json)
    print_json({{"shard", shard_text(shard)},
                {"file", file},
                {"sequences", summary.sequences},
                {"made", summary.made},
                {"kept", summary.kept},
                {"failed", summary.failed}});
  else
    print(
        "Shard {}: {} sequences, {} runs made, {} kept from before, {} failed.\nShard: {}. When all are "
        "there: "
        "'mnemon merge {}'.\n",
        shard_text(shard), summary.sequences, summary.made, summary.kept, summary.failed, file, options.out);
  if (summary.failed > 0)
    throw Error(fmt::format("{} of {} runs failed; a report of the merged study says why", summary.failed,
                            summary.made));
}

// The call of a shard, for a task on another machine.
std::vector<std::string> words_of_shard(const Options& options) {
  namespace fs = std::filesystem;
  std::vector<std::string> words{fs::read_symlink("/proc/self/exe").string(),
                                 "bench",
                                 fs::absolute(options.plan).string(),
                                 "--out",
                                 fs::absolute(options.out).string(),
                                 "--jobs",
                                 "1"};
  for (const std::string& protocol : options.protocols) words.insert(words.end(), {"--protocol", protocol});
  for (const std::string& plugin : options.plugins)
    words.insert(words.end(), {"--plugin", fs::absolute(plugin).string()});
  return words;
}

void run(const Options& options) {
  std::vector<std::string> plugins = options.plugins;
  for (const std::filesystem::path& file : plugins_of_plan(options.plan)) plugins.push_back(file.string());
  const Catalogue catalogue = catalogue_with(plugins);
  Plan plan = read_plan(options.plan, catalogue, std::filesystem::read_symlink("/proc/self/exe"));
  limit_protocols(plan, options.protocols);
  if (!options.cluster.empty() && !options.shard.empty())
    throw CallError("--shard makes one share here, and --cluster all of them elsewhere; leave one out");
  if (!options.shard.empty()) {
    run_shard(plan, catalogue, options);
    return;
  }
  if (!options.cluster.empty()) run_on_cluster(options.out, words_of_shard(options), options.slurm);
  RunSummary summary;
  if (options.cluster.empty()) summary = run_with_progress(plan, catalogue, options.out, options.jobs);
  const Study study =
      read_study(options.out, {.pictures = false, .runs = options.json ? RunParts::all : RunParts::figures});
  if (!options.cluster.empty()) {
    summary.made = static_cast<int>(study.runs.size());
    summary.failed = static_cast<int>(
        std::ranges::count_if(study.runs, [](const StudyRun& one) { return !one.failure.empty(); }));
  }
  if (options.json) {
    print_json(study_json(Results(study)));
  } else {
    print_study(study, summary, options.pairs ? Pairs::listed : Pairs::left_out);
    print("Study: {}. Write its page with 'mnemon report {}'.\n",
          (std::filesystem::path(options.out) / kStudyFile).string(), options.out);
  }
  if (summary.failed > 0)
    throw Error(
        fmt::format("{} of {} runs failed; what is said above tells why", summary.failed, summary.made));
}

}  // namespace

RunSummary run_with_progress(const Plan& plan, const Catalogue& catalogue,
                             const std::filesystem::path& folder, int jobs,
                             const std::optional<Shard>& shard) {
  ProgressLine line("running");
  RunOptions options;
  options.jobs = jobs;
  options.shard = shard;
  if (const char* const job = std::getenv("SLURM_ARRAY_JOB_ID")) options.who = job;
  options.on_progress = [&line](const RunProgress& p) {
    line.show(p.done, p.total, p.label + " on " + p.sequence);
  };
  const RunSummary summary = run_plan(plan, catalogue, folder, options);
  for (const std::string& what : summary.left_out) note("left out: {}\n", what);
  return summary;
}

void print_study(const Study& study, const RunSummary& summary, Pairs pairs) {
  if (!summary.kept_others_out)
    note(
        "warning: this file system has no locks: nothing keeps another program from writing to the same "
        "study\n");
  print("{}\n\n{}", study.title, study_text(Results(study), pairs));
  print("{} runs made, {} kept from before, {} failed.{}\n", summary.made, summary.kept, summary.failed,
        times_text(study));
  if (summary.times.untimed_ms > 0)
    print(
        "Side by side: {:.1f} s of runs in {:.1f} s. Reading frames took {:.1f} s, writing the study {:.1f} "
        "s.\n",
        summary.times.work_ms / 1000, summary.times.untimed_ms / 1000, summary.times.read_ms / 1000,
        summary.times.take_ms / 1000);
}

void add_bench(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("bench", "Run a plan's trackers over its sequences, into a study.",
                          "mnemon bench demo/plan.toml --out demo/study");
  verb.text("PLAN", "", options->plan, "the plan: which trackers, sequences and protocols", Need::required);
  verb.text("--out", "DIR", options->out, "the study's folder; what is in it already is not run again",
            Need::required);
  verb.text(
      "--shard", "K/N", options->shard,
      "make only the K-th of N shares of the plan, into DIR/shards/; 'mnemon merge DIR' puts them together");
  verb.word("--cluster", {"slurm"}, options->cluster,
            "make all shares as tasks of a cluster, watch them, begin those again that die, and merge; DIR "
            "and the plan are where "
            "all nodes see them");
  verb.whole("--shards", 1, options->slurm.shards, "on a cluster: how many shares (default: 1)");
  verb.text("--partition", "NAME", options->slurm.partition,
            "on a cluster: its partition (default: the cluster's own)");
  verb.text("--time", "TIME", options->slurm.time,
            "on a cluster: of a task, as Slurm writes it (default: 1-00:00:00)");
  verb.whole("--memory-mb", 100, options->slurm.memory_mb, "on a cluster: of a task, MB (default: 2000)");
  verb.texts("--line", "--OPTION", options->slurm.lines,
             "on a cluster: a further option of sbatch, such as --line=--account=lab (repeatable)");
  verb.whole("--tries", 1, options->slurm.tries, "on a cluster: how often a share is begun (default: 3)");
  verb.texts("--protocol", "NAME", options->protocols,
             "only this protocol of the plan's; may be given again (default: all of them)");
  verb.texts("--plugin", "FILE", options->plugins,
             "a shared library with further trackers (repeatable), beside those that the plan names");
  verb.whole("--jobs", 1, options->jobs, "threads for what is not timed (default: as many as cores)");
  verb.flag("--pairs", options->pairs, "also say what can be said of every pair of trackers");
  verb.flag("--json", options->json, "print JSON, with every score");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
