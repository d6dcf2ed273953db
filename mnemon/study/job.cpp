// SPDX-License-Identifier: MIT
#include <mnemon/study/job.hpp>

#include <algorithm>
#include <map>
#include <set>
#include <utility>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/export.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr FrameSize kAskedSize{640, 360};  // of frames that a process is told to come, to ask what it is

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

class Lister {
 public:
  Lister(const Plan& plan, const Catalogue& catalogue) : plan_(plan), catalogue_(catalogue) {}

  [[nodiscard]] JobList list(const std::vector<BenchSequence>& sequences) {
    for (const PlannedTracker& tracker : plan_.trackers) {
      list_.trackers.push_back(known_as(tracker));
      for (const BenchSequence& sequence : sequences) {
        if (sequence.study.is_ordinary())
          for (const Protocol& protocol : plan_.protocols) {
            if (is_run_under(tracker, protocol)) add_jobs(tracker, sequence, protocol);
          }
        else if (tracker.traces.empty())
          add_jobs(tracker, sequence, stress_protocol());
      }
    }
    list_.left_out.assign(left_out_.begin(), left_out_.end());
    return std::move(list_);
  }

 private:
  [[nodiscard]] static bool is_run_under(const PlannedTracker& tracker, const Protocol& protocol) {
    return tracker.protocols.empty() ||
           std::ranges::find(tracker.protocols, protocol.name) != tracker.protocols.end();
  }

  JobTracker known_as(const PlannedTracker& tracker) {
    if (!tracker.traces.empty()) return of_traces(tracker);
    if (is_command(tracker)) return of_command(tracker);
    const ParamSet params = completed(tracker.set, catalogue_.entry(tracker.name).schema);
    if (tracker.process) return {kProcessName, process_params({{"isolated", tracker.name}}, params)};
    return {tracker.name, json_text(params_json(params))};
  }

  // How lists of boxes are read belongs to what the traces are.
  static JobTracker of_traces(const PlannedTracker& tracker) {
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
    return {tracker.name, json_text(params)};
  }

  // Parameters are where those of every tracker are, and beside them the process that they are handed to.
  static std::string process_params(const Json& process, const ParamSet& set) {
    Json params = params_json(set);
    params[kProcessName] = process;
    return json_text(params);
  }

  // What a command runs is known by its files and by the version that it tells; one that does not even begin fails its
  // runs, each with the reason.
  JobTracker of_command(const PlannedTracker& tracker) {
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
    return {kProcessName, process_params(process, tracker.set)};
  }

  void add_jobs(const PlannedTracker& tracker, const BenchSequence& sequence, const Protocol& protocol) {
    const int starts = sequence.starts.empty()
                           ? 1
                           : sequence.starts.at(static_cast<std::size_t>(&protocol - plan_.protocols.data()));
    for (int i = 0; i < starts; ++i)
      for (int repeat = 0; repeat < tracker.repeats; ++repeat) {
        Job job{&tracker, &sequence, &protocol, i, repeat};
        // Losses are shown one by one under the plan's first protocol alone.
        job.has_crops =
            sequence.study.is_ordinary() && &protocol == plan_.protocols.data() && i == 0 && repeat == 0;
        job.keeps_stages = job.has_crops && plan_.keep_stages;
        if (!tracker.traces.empty() && !find_trace(job)) continue;
        if (is_command(tracker)) job.source = commands_.at(tracker.process->command).source;
        list_.jobs.push_back(std::move(job));
      }
  }

  // Where there is no trace at all under a protocol, that is told once; a trace that others stand beside, or that the entry's own
  // protocols ask for, is a run that failed.
  bool find_trace(Job& job) {
    const std::string& sequence = job.sequence->study.name;
    const std::string& protocol = job.protocol->name;
    const std::vector<fs::path>& folders = job.tracker->traces;
    const bool is_folder_each = folders.size() > 1;
    const fs::path& folder = folders[is_folder_each ? static_cast<std::size_t>(job.repeat) : 0];
    const int repeat = is_folder_each ? 0 : job.repeat;
    job.trace = trace_file(folder, sequence, protocol, job.start, repeat);
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
                              : trace_file_name(sequence, protocol, job.start, repeat));
    return true;
  }

  const Plan& plan_;
  const Catalogue& catalogue_;
  struct Command {
    std::string source;
    std::vector<std::string> trained_on;
    double model_bytes = 0;
  };

  std::map<std::vector<std::string>, Command> commands_;
  std::set<std::string> left_out_;
  JobList list_;
};

}  // namespace

bool Job::is_timed() const { return trace.empty() && protocol->is_timed() && sequence->study.is_ordinary(); }

const Protocol& stress_protocol() {
  static const Protocol protocol = make_protocol("single", {{"timed", false}});
  return protocol;
}

bool is_command(const PlannedTracker& tracker) { return tracker.process && tracker.name == kProcessName; }

JobList list_jobs(const Plan& plan, const Catalogue& catalogue, const std::vector<BenchSequence>& sequences) {
  return Lister(plan, catalogue).list(sequences);
}

}  // namespace mnemon
