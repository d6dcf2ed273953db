// SPDX-License-Identifier: MIT
#include <mnemon/study/runner.hpp>

#include <algorithm>
#include <map>
#include <mutex>
#include <new>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/run/following.hpp>
#include <mnemon/sequence/position.hpp>
#include <mnemon/study/bench_sequence.hpp>
#include <mnemon/study/core_pin.hpp>
#include <mnemon/study/export.hpp>
#include <mnemon/study/score_record.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr int kWarmUpFrames = 50;
constexpr FrameSize kAskedSize{640, 360};  // of frames that a process is told to come, to ask what it is

// One run of the plan.
struct Job {
  const PlannedTracker* tracker = nullptr;
  const BenchSequence* sequence = nullptr;
  const Protocol* protocol = nullptr;
  RunKey key;
  fs::path trace;      // of a run from elsewhere
  std::string source;  // its fingerprint
  std::int64_t build = 0;
  // Crops are cut of the plan's first protocol alone: that is the one whose losses are shown one by one.
  bool has_crops = false;
  bool keeps_stages = false;

  [[nodiscard]] bool is_timed() const {
    return trace.empty() && protocol->is_timed() && sequence->study.is_ordinary();
  }
};

// Whether a tracker is a program of somebody's, and not one of the catalogue.
bool is_command(const PlannedTracker& tracker) { return tracker.process && tracker.name == kProcessName; }

// The trackers that a job needs, one after the other.
class Maker {
 public:
  Maker(const Job& job, const Catalogue& catalogue, const Sequence& sequence)
      : planned_(*job.tracker), catalogue_(catalogue), set_(job.tracker->set), keep_out_(sequence.keep_out) {
    if (planned_.process) process_ = process_of(job, sequence.rate_hz);
    if (planned_.repeats > 1 && !is_command(planned_)) {
      const ParamSet all = completed(set_, catalogue.entry(planned_.name).schema);
      set_[kRandomSeed] = std::get<int>(all.at(kRandomSeed)) + job.key.repeat;
    }
    if (process_) process_->set = set_;
  }

  [[nodiscard]] std::unique_ptr<Tracker> make() const {
    if (!process_) return shown(catalogue_.make(planned_.name, set_), {.keep_out = keep_out_});
    ProcessSpec spec = *process_;
    const int width = take_width(spec.set, planned_.label);
    return shown(std::make_unique<ProcessTracker>(std::move(spec)), {width, keep_out_});
  }

  // Forgets what was taken so far: warming up is not part of a run.
  void start_counting() const {
    if (process_) *process_->use = {};
  }

  // What the process of a run took, once its trackers are gone.
  void tell_use(StudyRun& run) const {
    if (!process_) return;
    const ProcessUse& use = *process_->use;
    if (use.told_steps > 0) run.told_ms = use.told_ms / use.told_steps;
    run.peak_bytes = use.peak_bytes;
  }

 private:
  // A process that is kept to one core must not serve runs that are not, so timed runs have their own.
  static ProcessSpec process_of(const Job& job, double rate_hz) {
    ProcessSpec process = *job.tracker->process;
    process.rate_hz = rate_hz;
    process.random_seed = 1 + job.key.repeat;
    process.use = std::make_shared<ProcessUse>();
    if (job.is_timed()) process.home = std::make_shared<ProcessHome>();
    return process;
  }

  const PlannedTracker& planned_;
  const Catalogue& catalogue_;
  ParamSet set_;
  std::vector<Polygon> keep_out_;
  std::optional<ProcessSpec> process_;
};

void forget_times(Trace& trace) {
  for (TraceRow& row : trace.rows) row.step_ms.reset();
}

void warm_up(Tracker& tracker, FrameSource& frames, const Start& start) {
  skip_to(frames, start.frame, "the sequence");
  Following following(tracker, frames, {.last = start.frame + kWarmUpFrames},
                      [&](const Frame&, bool has_target) {
                        return has_target ? std::nullopt : std::optional<Region>(start.box);
                      });
  while (following.step()) {
  }
}

void run_protocol(const Job& job, const ProtocolGround& ground, const Maker& maker, StudyRun& run) {
  std::optional<CorePin> pin;
  if (job.is_timed()) {
    pin.emplace();
    warm_up(*ground.make(), *ground.open(), ground.start);
    maker.start_counting();
  }
  ProtocolRun made = job.protocol->entry().run(job.protocol->params, ground);
  run.trace = std::move(made.trace);
  run.highest_rate_hz = made.highest_rate_hz;
  run.rate_areas = std::move(made.rate_areas);
  maker.tell_use(run);
  if (!job.is_timed()) forget_times(run.trace);
}

void take_trace(const Job& job, StudyRun& run) {
  const std::optional<BoxListForm>& form = job.tracker->form;
  // A list of boxes by its ending, where the plan does not say what it is.
  run.trace =
      form || job.trace.extension() == ".txt"
          ? trace_of_boxes(parse_box_list(read_file(job.trace), job.trace, form.value_or(BoxListForm{})))
          : read_trace(job.trace);
  run.source = job.source;
  run.timed =
      std::ranges::any_of(run.trace.rows, [](const TraceRow& row) { return row.step_ms.has_value(); });
}

// The true masks of a sequence, read when the first run with masks asks for them.
class TrueMasks {
 public:
  const std::vector<FrameRuns>& of(const Sequence& sequence) const {
    std::call_once(once_, [&] { masks_ = read_true_masks(sequence); });
    return masks_;
  }

 private:
  mutable std::once_flag once_;
  mutable std::vector<FrameRuns> masks_;
};

// A sequence while runs are made on it.
struct Opened {
  OpenSequence sequence;
  std::optional<FrameStore> frames;  // none where all runs are from elsewhere
  TrueMasks masks;
};

RunScore scored(const Trace& trace, const Opened& opened, const ScoreOptions& options) {
  const Truth& truth = opened.sequence.facts.truth;
  if (trace.masks.empty()) return score_run(truth, trace, options);
  return score_run({truth.rows, opened.masks.of(opened.sequence.facts)}, trace, options);
}

// What is to be looked at later: crops around the run's troubles, and the inner pictures at its losses. Made after the run
// and outside its times.
void add_moments(const Job& job, const Opened& opened, const Maker* maker, const Start& start,
                 std::size_t moment_bytes, StudyRun& run) {
  if (!job.has_crops) return;
  const Truth& truth = opened.sequence.facts.truth;
  const auto open = [&] { return opened.frames ? opened.frames->open() : opened.sequence.frames.open(); };
  const std::size_t crop_bytes = moment_bytes / 3 * 2;
  const std::vector<int> cut = frames_to_cut(run.troubles, opened.sequence.frames.count, crop_bytes);
  if (!cut.empty()) run.crops = cut_crops(*open(), cut, truth, run.trace, crop_bytes);
  run.has_stages = job.keeps_stages;
  if (!job.keeps_stages || maker == nullptr) return;
  const std::vector<int> looked_into = frames_to_look_into(run.troubles);
  if (looked_into.empty()) return;
  try {
    run.stages =
        stages_on(*maker->make(), *open(), start.frame, start.box, looked_into, moment_bytes - crop_bytes);
  } catch (const Error&) {
    // The run is whole and scored: that a tracker failed when it was only looked at again does not undo it.
  }
}

StudyRun made_run(const Job& job, const Opened& opened, StepLimit limit, const Catalogue& catalogue,
                  std::size_t moment_bytes) {
  StudyRun run;
  run.timed = job.is_timed();
  if (job.tracker->process) run.source = job.source;
  const Truth& truth = opened.sequence.facts.truth;
  std::optional<Maker> maker;
  Start start;
  try {
    if (!job.trace.empty()) {
      take_trace(job, run);
    } else {
      maker.emplace(job, catalogue, opened.sequence.facts);
      start = starts_of(*job.protocol, truth).at(static_cast<std::size_t>(job.key.start));
      run_protocol(job,
                   {[&] { return maker->make(); }, [&] { return opened.frames->open(); }, truth,
                    opened.sequence.facts.rate_hz, start, limit},
                   *maker, run);
    }
    for (TraceRow& row : run.trace.rows) add_position(opened.sequence.facts, row);
    run.score = scored(run.trace, opened, job.protocol->score_options());
    run.troubles = troubles_of_run(truth, run.trace, job.protocol->score_options());
    add_moments(job, opened, maker ? &*maker : nullptr, start, moment_bytes, run);
  } catch (const std::bad_alloc&) {
    run.failure = "there was not enough memory for it";
  } catch (const std::exception& error) {
    run.failure = *error.what() != '\0' ? error.what() : "it failed without saying why";
  } catch (...) {  // a tracker may be anybody's
    run.failure = "it threw what is no exception of the standard library";
  }
  if (!run.failure.empty()) {
    run.trace = {};
    run.troubles = {};
    run.crops = {};
    run.stages = {};
  }
  return run;
}

// The file of a run from elsewhere: as an export names it, or with the sequence's name as it is; under `single` the
// protocol may be left out. It ends in .csv or .txt. Empty where there is none.
fs::path trace_file(const fs::path& folder, const std::string& sequence, const std::string& protocol,
                    int start, int repeat) {
  std::vector<std::string> names{trace_file_name(sequence, protocol, start, repeat)};
  names.push_back(sequence + names[0].substr(file_name_of(sequence).size()));
  if (protocol == protocol_names().front()) {
    const std::string ending = repeat > 0 ? fmt::format("{}{}.csv", kRepeatMark, repeat) : ".csv";
    names.insert(names.end(), {file_name_of(sequence) + ending, sequence + ending});
  }
  for (const std::string& name : names)
    for (const char* ending : {".csv", ".txt"}) {
      const fs::path file = folder / (name.substr(0, name.size() - 4) + ending);
      if (fs::exists(file)) return file;
    }
  return {};
}

// Whether a folder has any trace under a protocol: then one that is not there is missing, and otherwise the whole protocol is.
bool has_traces_under(const fs::path& folder, const std::string& protocol) {
  if (protocol == protocol_names().front()) return true;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code))
    if (entry.path().filename().string().find("." + protocol + ".") != std::string::npos) return true;
  return false;
}

// Turns a plan into jobs, and tells the study of all that they belong to.
class Planner {
 public:
  Planner(const Plan& plan, const Catalogue& catalogue, StudyWriter& writer)
      : plan_(plan), catalogue_(catalogue), writer_(writer) {
    if (!plan.stress.empty()) stress_protocol_ = make_protocol("single", {{"timed", false}});
  }

  std::vector<Job> jobs(const std::vector<BenchSequence>& sequences) {
    for (const Protocol& protocol : plan_.protocols)
      protocol_ids_[&protocol] = writer_.add_protocol(protocol);
    if (!plan_.stress.empty()) protocol_ids_[&stress_protocol_] = writer_.add_protocol(stress_protocol_);
    for (const PlannedTracker& tracker : plan_.trackers) {
      const std::int64_t id = add(tracker);
      for (const BenchSequence& sequence : sequences) {
        if (sequence.study.is_ordinary())
          for (const Protocol& protocol : plan_.protocols) {
            if (is_run_under(tracker, protocol)) add_jobs(tracker, id, sequence, protocol);
          }
        else if (tracker.traces.empty())
          add_jobs(tracker, id, sequence, stress_protocol_);
      }
    }
    return std::move(jobs_);
  }

  // What the plan asks for and nobody can give, in words.
  [[nodiscard]] std::vector<std::string> left_out() const { return {left_out_.begin(), left_out_.end()}; }

 private:
  [[nodiscard]] static bool is_run_under(const PlannedTracker& tracker, const Protocol& protocol) {
    return tracker.protocols.empty() ||
           std::ranges::find(tracker.protocols, protocol.name) != tracker.protocols.end();
  }

  std::int64_t add(const PlannedTracker& tracker) {
    if (!tracker.traces.empty()) return add_traces(tracker);
    if (is_command(tracker)) return add_command(tracker);
    const ParamSet params = completed(tracker.set, catalogue_.entry(tracker.name).schema);
    if (tracker.process)
      return writer_.add_tracker(kProcessName, process_params({{"isolated", tracker.name}}, params));
    return writer_.add_tracker(tracker.name, json_text(params_json(params)));
  }

  // How lists of boxes are read belongs to what the traces are.
  std::int64_t add_traces(const PlannedTracker& tracker) {
    Json params{{"traces", Json::array()}};
    for (const fs::path& folder : tracker.traces)
      params["traces"].push_back(fs::absolute(folder).lexically_normal().string());
    if (tracker.traces.size() == 1) params["traces"] = params["traces"][0];
    if (tracker.form) {
      params["columns"] = tracker.form->columns;
      params["one_based"] = tracker.form->one_based;
      const AbsentMarks& absent = tracker.form->absent;
      params["absent"] = Json::array();
      if (absent.nan) params["absent"].push_back("nan");
      if (absent.zero) params["absent"].push_back("zero");
      if (absent.negative) params["absent"].push_back("negative");
    }
    return writer_.add_tracker(tracker.name, json_text(params));
  }

  // Parameters are where those of every tracker are, and beside them the process that they are handed to.
  static std::string process_params(const Json& process, const ParamSet& set) {
    Json params = params_json(set);
    params[kProcessName] = process;
    return json_text(params);
  }

  // What a command runs is known by its files and by the version that it tells; one that does not even begin fails its
  // runs, each with the reason.
  std::int64_t add_command(const PlannedTracker& tracker) {
    const std::vector<std::string>& command = tracker.process->command;
    auto& [source, trained_on, model_bytes] = commands_[command];
    if (source.empty()) {
      source = fingerprint_of_command(command, tracker.process->folder);
      try {
        ProcessSpec asked = *tracker.process;
        asked.home = {};
        asked.set = tracker.set;
        const ProcessFacts facts = facts_of_process(asked, kAskedSize);
        if (!facts.version.empty()) source += " " + facts.version;
        trained_on = facts.trained_on;
        model_bytes = facts.model_bytes;
      } catch (const Error&) {
        source += " ?";
      }
    }
    Json process{{"command", command}};
    if (!trained_on.empty()) process["trained_on"] = trained_on;
    if (model_bytes > 0) process["model_bytes"] = model_bytes;
    return writer_.add_tracker(kProcessName, process_params(process, tracker.set));
  }

  void add_jobs(const PlannedTracker& tracker, std::int64_t id, const BenchSequence& sequence,
                const Protocol& protocol) {
    // A generated sequence that is in the study already has not been generated again, so its truth is not here.
    // Nor is one that cannot be read, of which one run says so.
    const std::size_t starts = sequence.study.is_ordinary() && sequence.study.failure.empty()
                                   ? starts_of(protocol, sequence.study.truth).size()
                                   : 1;
    const std::int64_t protocol_id = protocol_ids_.at(&protocol);
    for (int i = 0; i < static_cast<int>(starts); ++i)
      for (int repeat = 0; repeat < tracker.repeats; ++repeat) {
        Job job{&tracker, &sequence, &protocol, {id, sequence.id, protocol_id, i, repeat}, {}, ""};
        job.has_crops =
            sequence.study.is_ordinary() && &protocol == plan_.protocols.data() && i == 0 && repeat == 0;
        job.keeps_stages = job.has_crops && plan_.keep_stages;
        if (!tracker.traces.empty() && !find_trace(job)) continue;
        if (is_command(tracker)) job.source = commands_.at(tracker.process->command).source;
        jobs_.push_back(std::move(job));
      }
  }

  // Where there is no trace at all under a protocol, that is told once; a trace that others stand beside, or that the entry's own
  // protocols ask for, is a run that failed.
  bool find_trace(Job& job) {
    const std::string& sequence = job.sequence->study.name;
    const std::string& protocol = job.protocol->name;
    const std::vector<fs::path>& folders = job.tracker->traces;
    const bool is_folder_each = folders.size() > 1;
    const fs::path& folder = folders[is_folder_each ? static_cast<std::size_t>(job.key.repeat) : 0];
    const int repeat = is_folder_each ? 0 : job.key.repeat;
    job.trace = trace_file(folder, sequence, protocol, job.key.start, repeat);
    if (!job.trace.empty()) {
      try {
        job.source = fingerprint(read_file(job.trace));
      } catch (const DataError&) {
        // The run will say so.
      }
      return true;
    }
    if (job.tracker->protocols.empty() &&
        std::ranges::none_of(folders, [&](const fs::path& one) { return has_traces_under(one, protocol); })) {
      left_out_.insert(fmt::format("{} has no traces under {}", job.tracker->label, protocol));
      return false;
    }
    // Which the failure names.
    job.trace = folder / (protocol == protocol_names().front() && repeat == 0
                              ? sequence + ".csv"
                              : trace_file_name(sequence, protocol, job.key.start, repeat));
    return true;
  }

  const Plan& plan_;
  const Catalogue& catalogue_;
  StudyWriter& writer_;
  Protocol stress_protocol_;
  struct Command {
    std::string source;
    std::vector<std::string> trained_on;
    double model_bytes = 0;
  };

  std::set<std::string> left_out_;
  std::map<const Protocol*, std::int64_t> protocol_ids_;
  std::map<std::vector<std::string>, Command> commands_;
  std::vector<Job> jobs_;
};

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

// Makes jobs and writes their runs, telling how far it has come.
class Workshop {
 public:
  Workshop(const Plan& plan, const Catalogue& catalogue, StudyWriter& writer, const RunOptions& options)
      : catalogue_(catalogue), writer_(writer), options_(options) {
    if (plan.step_limit_ms) limit_.ms = *plan.step_limit_ms;
  }

  // Every run may take the same, so that what is kept does not hang on which run ends first. As most runs lose nothing, each
  // may take three times its equal share: two thirds of it for crops, one for stages.
  void share_room(double crops_mb, std::size_t runs_with_crops) {
    constexpr double kSharesOfARun = 3;
    moment_bytes_ = static_cast<std::size_t>(kSharesOfARun * crops_mb * 1e6 /
                                             static_cast<double>(std::max<std::size_t>(1, runs_with_crops)));
  }

  void make_all(const std::vector<Job>& jobs, int kept) {
    summary_.kept = kept;
    progress_.total = static_cast<int>(jobs.size());
    // The frames of one sequence are in memory at a time, so all that is to be done on it is done together.
    for (std::size_t begin = 0; begin < jobs.size();) {
      std::size_t end = begin;
      while (end < jobs.size() && jobs[end].sequence == jobs[begin].sequence) ++end;
      make_on_sequence(std::span(jobs).subspan(begin, end - begin));
      begin = end;
    }
  }

  [[nodiscard]] RunSummary summary() const { return summary_; }

 private:
  void make_on_sequence(std::span<const Job> jobs) {
    std::vector<const Job*> untimed;
    std::vector<const Job*> timed;
    for (const Job& job : jobs) (job.is_timed() ? timed : untimed).push_back(&job);
    Opened opened;
    Stopwatch stopwatch;
    try {
      opened.sequence = jobs.front().sequence->open();
      if (std::ranges::any_of(jobs, [](const Job& job) { return job.trace.empty(); }))
        opened.frames.emplace(opened.sequence.frames, options_.frame_bytes.value_or(memory_for_frames()),
                              options_.jobs);
    } catch (const Error& error) {
      for (const Job& job : jobs) put_failure(job, error.what(), opened);
      return;
    }
    summary_.read_ms += stopwatch.elapsed_ms();
    stopwatch = {};
    for_each_index(static_cast<int>(untimed.size()), options_.jobs,
                   [&](int i) { make(*untimed[i], opened); });
    summary_.untimed_ms += stopwatch.elapsed_ms();
    for (const Job* job : timed) make(*job, opened);
  }

  void make(const Job& job, const Opened& opened) {
    const Stopwatch stopwatch;
    const StudyRun run = made_run(job, opened, limit_, catalogue_, moment_bytes_);
    const double work_ms = stopwatch.elapsed_ms();
    put(job, run, work_ms, opened);
  }

  void put_failure(const Job& job, const std::string& why, const Opened& opened) {
    StudyRun run;
    run.failure = why;
    put(job, run, 0, opened);
  }

  void put(const Job& job, const StudyRun& run, double work_ms, const Opened& opened) {
    const Stopwatch waiting;
    const std::scoped_lock lock(mutex_);
    if (!run.trace.masks.empty())
      writer_.put_true_masks(job.key.sequence, opened.masks.of(opened.sequence.facts));
    writer_.put_run(job.key, run, job.build);
    (job.is_timed() ? summary_.timed_ms : summary_.work_ms) += work_ms;
    summary_.write_ms += waiting.elapsed_ms();
    summary_.failed += run.failure.empty() ? 0 : 1;
    summary_.made = ++progress_.done;
    progress_.label = job.tracker->label;
    progress_.sequence = job.sequence->study.name;
    if (options_.on_progress) options_.on_progress(progress_);
  }

  const Catalogue& catalogue_;
  StudyWriter& writer_;
  const RunOptions& options_;
  StepLimit limit_;
  std::size_t moment_bytes_ = 0;
  std::mutex mutex_;
  RunProgress progress_;
  RunSummary summary_;
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

}  // namespace

RunSummary run_plan(const Plan& plan, const Catalogue& catalogue, const fs::path& folder,
                    const RunOptions& options) {
  StudyWriter writer(folder, options.shard);
  if (options.shard) {
    writer.set_plan(fingerprint_of(plan, options.shard->count));
    writer.set_finished_by("");
  }
  const std::vector<BenchSequence> sequences = bench_sequences(plan, options.jobs, writer, options.shard);
  Planner planner(plan, catalogue, writer);  // owns the protocol of generated sequences
  std::vector<Job> jobs = planner.jobs(sequences);
  std::vector<PlannedRun> planned;
  for (const Job& job : jobs)
    planned.push_back({job.key, job.tracker->label, job.tracker->sweep,
                       static_cast<int>(job.tracker - plan.trackers.data()), job.sequence->place});
  writer.plan(plan.title, planned, members_of(plan, sequences));
  const Builds builds(catalogue, jobs, writer);
  std::set<RunKey> met;  // entries that differ by their labels alone share their runs
  std::erase_if(jobs, [&](Job& job) {
    if (!met.insert(job.key).second) return true;
    job.build = builds.of(job).id;
    return writer.has_run(job.key, builds.of(job).facts, job.source, job.keeps_stages);
  });
  std::ranges::stable_sort(jobs, {}, [](const Job& job) { return job.sequence; });
  Workshop workshop(plan, catalogue, writer, options);
  workshop.share_room(plan.crops_mb, runs_with_crops(plan));
  workshop.make_all(jobs, static_cast<int>(planned.size() - jobs.size()));
  if (options.shard) writer.set_finished_by(options.who);
  RunSummary summary = workshop.summary();
  summary.kept_others_out = writer.keeps_others_out();
  summary.sequences = static_cast<int>(sequences.size());
  summary.left_out = planner.left_out();
  return summary;
}

}  // namespace mnemon
