// SPDX-License-Identifier: MIT
#include <mnemon/study/slurm.hpp>

#include <algorithm>
#include <sstream>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/command.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/json.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/study/database.hpp>
#include <mnemon/study/shard.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr const char* kStateForm = "mnemon-slurm/1";
constexpr int kMostTasks = 100'000;

std::string without_line_end(const std::string& text) {
  return text.substr(0, text.find_last_not_of("\n") + 1);
}

// What one of Slurm's programs says.
std::string asked(const std::vector<std::string>& words) {
  CommandResult result;
  try {
    result = run_command(words);
  } catch (const Error& error) {
    throw Error(fmt::format(
        "{}; is this one of the cluster's own machines, with Slurm's programs on the path?", error.what()));
  }
  if (result.status != 0)
    throw Error(fmt::format("{} failed (status {}): {}", words.front(), result.status,
                            without_line_end(result.output)));
  return result.output;
}

bool has_line_end(const std::string& text) { return text.find_first_of("\n\r") != std::string::npos; }

std::string script_text(const SlurmRequest& request, const std::string& name, const fs::path& logs,
                        const std::vector<std::string>& command) {
  std::string text = "#!/bin/bash\n";
  const auto line = [&text](const std::string& option) { text += "#SBATCH " + option + "\n"; };
  line("--job-name=" + name);
  line("--output=" + (logs / "%A_%a.log").string());
  line("--ntasks=1");
  line("--cpus-per-task=1");
  line("--time=" + request.time);
  line(fmt::format("--mem={}M", request.memory_mb));
  if (!request.partition.empty()) line("--partition=" + request.partition);
  for (const std::string& more : request.lines) line(more);
  text += "exec";
  for (const std::string& word : command) text += " " + shell_word(word);
  return text + fmt::format(" --shard \"$SLURM_ARRAY_TASK_ID/{}\"\n", request.shards);
}

// Numbers as an array's list, with ranges: 1-3,7.
std::string array_text(const std::vector<int>& numbers) {
  std::string text;
  for (std::size_t i = 0; i < numbers.size();) {
    std::size_t end = i;
    while (end + 1 < numbers.size() && numbers[end + 1] == numbers[end] + 1) ++end;
    text += (text.empty() ? "" : ",") +
            (end > i ? fmt::format("{}-{}", numbers[i], numbers[end]) : fmt::format("{}", numbers[i]));
    i = end + 1;
  }
  return text;
}

}  // namespace

void SlurmRequest::check() const {
  if (shards < 1 || shards > kMostTasks)
    throw CallError(fmt::format("--shards {}: there can be 1 to {}", shards, kMostTasks));
  if (memory_mb < 100)
    throw CallError(fmt::format("--memory-mb {}: a task needs 100 MB and more", memory_mb));
  if (tries < 1) throw CallError(fmt::format("--tries {}: each shard has to be tried once", tries));
  for (const std::string& text : {partition, time})
    if (has_line_end(text)) throw CallError("partition and time are words without ends of lines");
  if (time.empty()) throw CallError("--time is empty; leave it out for a day");
  for (const std::string& line : lines)
    if (!line.starts_with("--") || has_line_end(line))
      throw CallError(fmt::format("--line {}: is no option of sbatch such as --account=lab", line));
}

ShardState shard_state(const fs::path& file) {
  std::error_code code;
  if (!fs::exists(file, code)) return {};
  try {
    Database database(file, Database::Mode::read);
    ShardState state;
    Statement count = database.prepare(
        "SELECT (SELECT count(*) FROM planned), (SELECT count(*) FROM run_names), "
        "(SELECT max(value) FROM facts WHERE key = 'finished_by')");
    if (!count.next()) return {};
    state.planned = static_cast<int>(count.whole(0));
    state.made = static_cast<int>(count.whole(1));
    state.finished_by = count.text(2);
    return state;
  } catch (const DataError&) {
    return {};  // it is being written
  }
}

SlurmTasks::SlurmTasks(fs::path folder, const std::vector<std::string>& command, SlurmRequest request)
    : folder_(std::move(folder)),
      request_(std::move(request)),
      name_("mnemon-" + fingerprint(fs::absolute(folder_).lexically_normal().string()).substr(0, 10)),
      script_(folder_ / "cluster" / "job.sh") {
  request_.check();
  const fs::path state = folder_ / "cluster" / "slurm.json";
  std::error_code code;
  if (fs::exists(state, code)) read_state(state);
  const fs::path logs = fs::absolute(folder_ / "cluster" / "logs");
  make_folder(logs);
  write_file(script_, script_text(request_, name_, logs, command));
}

void SlurmTasks::read_state(const fs::path& file) {
  try {
    const Json json = Json::parse(read_file(file));
    if (json.at("format") != kStateForm) throw DataError({file}, "is of another form");
    const int shards = json.at("shards");
    if (shards != request_.shards)
      throw CallError(fmt::format("{} is in {} shards, not {}; say --shards {}, or name another folder",
                                  folder_.string(), shards, request_.shards, shards));
    if (json.at("ended")) return;
    for (const Json& task : json.at("tasks")) {
      tries_[task.at("shard")] = task.at("tries");
      jobs_[task.at("shard")] = task.at("job");
    }
  } catch (const nlohmann::json::exception&) {
    throw DataError({file}, "does not say what is under way; remove it once nothing is");
  }
}

std::string SlurmTasks::log_of(int shard) const {
  const auto job = jobs_.find(shard);
  return job == jobs_.end()
             ? ""
             : (folder_ / "cluster" / "logs" / fmt::format("{}_{}.log", job->second, shard)).string();
}

// The shards whose tasks wait or run.
std::set<int> SlurmTasks::under_way(SlurmState& state) const {
  std::set<int> shards;
  std::istringstream lines(
      asked({"squeue", "--noheader", "--array", "--me", "--name=" + name_, "--format=%K %t"}));
  for (std::string line; std::getline(lines, line);) {
    const auto words = parts_of(trimmed(line), ' ');
    const auto shard = words.empty() ? std::nullopt : parse_whole(words.front());
    // A task that has ended is shown for a while as completing.
    if (!shard || words.back() == "CG") continue;
    shards.insert(*shard);
    ++(words.back() == "R" ? state.running : state.waiting);
  }
  return shards;
}

SlurmState SlurmTasks::look() {
  SlurmState state;
  // Asked for first: a shard that is not under way now, and not finished afterwards, has died.
  const std::set<int> tasks = under_way(state);
  std::vector<int> wanted;
  std::set<int> missed;
  for (int shard = 1; shard <= request_.shards; ++shard) {
    const ShardState one = shard_state(shard_file(folder_, {shard, request_.shards}));
    state.planned += one.planned;
    state.made += one.made;
    const auto job = jobs_.find(shard);
    const bool is_finished = job != jobs_.end() && one.finished_by == job->second;
    if (is_finished && !tasks.contains(shard)) {
      ++state.finished;
    } else if (!tasks.contains(shard)) {
      // File systems of clusters show a file's last words a little late.
      const bool is_new = !tries_.contains(shard);
      missed.insert(shard);
      if (!is_new && !missed_.contains(shard)) continue;
      if (tries_[shard] >= request_.tries)
        state.given_up.push_back(shard);
      else
        wanted.push_back(shard);
    }
  }
  missed_ = std::move(missed);
  if (!wanted.empty()) submit(wanted);
  if (state.finished + static_cast<int>(state.given_up.size()) == request_.shards) save(true);
  return state;
}

void SlurmTasks::submit(const std::vector<int>& shards) {
  for (std::size_t from = 0; from < shards.size(); from += static_cast<std::size_t>(request_.most_tasks)) {
    const auto end = std::min(shards.size(), from + static_cast<std::size_t>(request_.most_tasks));
    const std::vector<int> some(shards.begin() + static_cast<std::ptrdiff_t>(from),
                                shards.begin() + static_cast<std::ptrdiff_t>(end));
    const std::string said = asked({"sbatch", "--parsable", "--array=" + array_text(some), script_.string()});
    const std::string job(parts_of(said.substr(0, said.find('\n')), ';').front());
    if (!parse_whole(job)) throw Error(fmt::format("sbatch answered no number of a job but '{}'", said));
    for (const int shard : some) {
      ++tries_[shard];
      jobs_[shard] = job;
      missed_.erase(shard);
    }
    save(false);
  }
}

void SlurmTasks::save(bool is_ended) const {
  Json tasks = Json::array();
  for (const auto& [shard, tries] : tries_)
    tasks.push_back(
        {{"shard", shard}, {"tries", tries}, {"job", jobs_.contains(shard) ? jobs_.at(shard) : ""}});
  write_file(
      folder_ / "cluster" / "slurm.json",
      json_text(
          Json{{"format", kStateForm}, {"shards", request_.shards}, {"ended", is_ended}, {"tasks", tasks}},
          1) +
          "\n");
}

}  // namespace mnemon
