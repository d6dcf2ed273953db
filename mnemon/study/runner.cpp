// SPDX-License-Identifier: MIT
#include <mnemon/study/runner.hpp>

#include <algorithm>
#include <map>
#include <set>
#include <utility>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/fingerprint.hpp>
#include <mnemon/study/bench_sequence.hpp>
#include <mnemon/study/job.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

// What makes the runs: the library, and for trackers that are not its own also the program that brings them.
class Builds {
 public:
  struct Build {
    BuildFacts facts;
    std::int64_t id = 0;
  };

  Builds(const Catalogue& catalogue, const std::vector<Job>& jobs, StudyWriter& writer)
      : catalogue_(catalogue) {
    library_.facts = build_facts();
    library_.id = writer.add_build(library_.facts);
    if (std::ranges::all_of(jobs, [this](const Job& job) { return is_of_library(job); })) return;
    own_.facts = build_facts_of_own();
    own_.id = writer.add_build(own_.facts);
  }

  [[nodiscard]] const Build& of(const Job& job) const { return is_of_library(job) ? library_ : own_; }

 private:
  [[nodiscard]] bool is_of_library(const Job& job) const {
    return !job.tracker->traces.empty() || is_command(*job.tracker) ||
           catalogue_.entry(job.tracker->name).is_of_library;
  }

  const Catalogue& catalogue_;
  Build library_;
  Build own_;
};

// What makes two shards parts of one study: the plan's trackers, protocols and sequences, and how many shards there are.
std::string fingerprint_of(const Plan& plan, int shards) {
  Fingerprint whole;
  whole.add(fmt::format("{}\n{}\n", plan.title, shards));
  for (const PlannedTracker& tracker : plan.trackers)
    whole.add(fmt::format("{}\n{}\n{}\n{}\n", tracker.name, tracker.label,
                          json_text(params_json(tracker.set)), tracker.repeats));
  for (const Protocol& protocol : plan.protocols)
    whole.add(fmt::format("{}\n{}\n", protocol.name, json_text(params_json(protocol.params))));
  for (const fs::path& folder : plan.sequences)
    whole.add(fs::weakly_canonical(folder).filename().string() + "\n");
  for (const PlannedStress& stress : plan.stress)
    whole.add(fmt::format("{}\n{}\n{}\n", stress.scene, stress.knob, stress.random));
  return whole.text();
}

// How many runs of the whole plan may have crops: the same for each of its shards.
std::size_t runs_with_crops(const Plan& plan) {
  const auto trackers = std::ranges::count_if(plan.trackers, [&](const PlannedTracker& tracker) {
    return tracker.protocols.empty() ||
           std::ranges::find(tracker.protocols, plan.protocols.front().name) != tracker.protocols.end();
  });
  return static_cast<std::size_t>(trackers) * plan.sequences.size();
}

std::vector<PlannedMember> members_of(const Plan& plan, const std::vector<BenchSequence>& sequences) {
  std::vector<PlannedMember> members;
  for (const PlannedSet& set : plan.sets)
    for (const BenchSequence& sequence : sequences)
      if (sequence.study.is_ordinary() &&
          std::ranges::find(set.sequences, sequence.study.name) != set.sequences.end())
        members.push_back({set.name, sequence.id});
  return members;
}

// Makes the jobs' trackers and protocols known to the study, which gives each job the key of its run.
void enter(const Plan& plan, const std::vector<JobTracker>& trackers, std::vector<Job>& jobs,
           StudyWriter& writer) {
  std::map<const Protocol*, std::int64_t> protocols;
  for (const Protocol& protocol : plan.protocols) protocols[&protocol] = writer.add_protocol(protocol);
  if (!plan.stress.empty()) protocols[&stress_protocol()] = writer.add_protocol(stress_protocol());
  std::vector<std::int64_t> ids;
  for (const JobTracker& tracker : trackers) ids.push_back(writer.add_tracker(tracker.name, tracker.params));
  for (Job& job : jobs)
    job.key = {ids[static_cast<std::size_t>(job.tracker - plan.trackers.data())], job.sequence->id,
               protocols.at(job.protocol), job.start, job.repeat};
}

std::vector<PlannedRun> planned_runs(const Plan& plan, const std::vector<Job>& jobs) {
  std::vector<PlannedRun> planned;
  for (const Job& job : jobs)
    planned.push_back({job.key, job.tracker->label, job.tracker->sweep,
                       static_cast<int>(job.tracker - plan.trackers.data()), job.sequence->place});
  return planned;
}

// Takes out what the study has, and what is asked for twice: entries that differ by their labels alone share their runs.
void keep_what_is_missing(const Catalogue& catalogue, StudyWriter& writer, std::vector<Job>& jobs) {
  const Builds builds(catalogue, jobs, writer);
  std::set<RunKey> met;
  std::erase_if(jobs, [&](Job& job) {
    if (!met.insert(job.key).second) return true;
    job.build = builds.of(job).id;
    return writer.has_run(job.key, builds.of(job).facts, job.source, job.keeps_stages);
  });
}

// Every run may take the same, so that what is kept does not hang on which run ends first. As most runs lose nothing, each
// may take three times its equal share: two thirds of it for crops, one for stages.
std::size_t moment_bytes(const Plan& plan) {
  constexpr double kSharesOfARun = 3;
  return static_cast<std::size_t>(kSharesOfARun * plan.crops_mb * 1e6 /
                                  static_cast<double>(std::max<std::size_t>(1, runs_with_crops(plan))));
}

}  // namespace

RunSummary run_plan(const Plan& plan, const Catalogue& catalogue, const fs::path& folder,
                    const RunOptions& options) {
  StudyWriter writer(folder, options.shard);
  if (options.shard) {
    writer.set_plan(fingerprint_of(plan, options.shard->count));
    writer.set_finished_by("");
  }
  std::vector<BenchSequence> sequences = bench_sequences(plan, options.jobs, writer, options.shard);
  JobList list = list_jobs(plan, catalogue, sequences);
  enter(plan, list.trackers, list.jobs, writer);
  writer.plan(plan.title, planned_runs(plan, list.jobs), members_of(plan, sequences));
  const std::size_t planned = list.jobs.size();
  keep_what_is_missing(catalogue, writer, list.jobs);

  RunSummary summary;
  summary.kept = static_cast<int>(planned - list.jobs.size());
  ExecutorOptions how{options.jobs, options.frame_bytes, {{}, moment_bytes(plan)}};
  if (plan.step_limit_ms) how.rules.limit.ms = *plan.step_limit_ms;
  const int total = static_cast<int>(list.jobs.size());
  summary.times = execute(
      std::move(list.jobs), catalogue, how, [&](const Job& job, const StudyRun& run, const Ground& ground) {
        if (!run.trace.masks.empty())
          writer.put_true_masks(job.key.sequence, ground.masks.of(ground.sequence.facts));
        writer.put_run(job.key, run, job.build);
        summary.failed += run.failure.empty() ? 0 : 1;
        ++summary.made;
        if (options.on_progress)
          options.on_progress({summary.made, total, job.tracker->label, job.sequence->study.name});
      });
  if (options.shard) writer.set_finished_by(options.who);
  summary.kept_others_out = writer.keeps_others_out();
  summary.sequences = static_cast<int>(sequences.size());
  summary.left_out = std::move(list.left_out);
  return summary;
}

}  // namespace mnemon
