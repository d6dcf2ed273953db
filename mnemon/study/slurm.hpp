// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <map>
#include <set>
#include <string>
#include <vector>
/// \file
/// A plan's shards as tasks of a Slurm cluster, submitted, watched and submitted again by its own programs `sbatch` and `squeue`.
namespace mnemon {

/// What is asked of the cluster.
struct SlurmRequest {
  int shards = 1;                       ///< From 1 to 100000.
  std::string partition;                ///< Empty: the cluster's own choice.
  std::string time = "1-00:00:00";      ///< Of a task, as Slurm writes times.
  int memory_mb = 2000;                 ///< Of a task.
  std::vector<std::string> lines = {};  ///< More lines for the job's script, such as `--account=lab`.
  int tries = 3;                        ///< How often a shard is begun at most.
  int most_tasks = 1000;                ///< Of one array.

  /// \throws CallError  where a value is out of range, or a line would end the script's header.
  void check() const;
};

/// How far a shard is.
struct ShardState {
  int planned = 0;               ///< Runs; 0 while nobody knows.
  int made = 0;                  ///< Of these.
  std::string finished_by = {};  ///< The job whose task came to its end; empty where none has.
};

/// What a shard's file says. A file that is not there, or is being written at this moment, says nothing.
[[nodiscard]] ShardState shard_state(const std::filesystem::path& file);

/// Where all shards are.
struct SlurmState {
  int planned = 0;                 ///< Runs of the shards that say so.
  int made = 0;                    ///< Of these.
  int finished = 0;                ///< Shards.
  int running = 0;                 ///< Tasks of the campaign.
  int waiting = 0;                 ///< Likewise.
  std::vector<int> given_up = {};  ///< Shards that were begun as often as they may.
};

/// The tasks of one study. Whoever makes another one for the same folder takes them up where they are. Once all have ended, another one
/// begins them all again: plan, sequences and program may have changed, and a task makes only what is missing.
class SlurmTasks {
 public:
  /// \param folder   The study's, on a file system that all nodes see.
  /// \param command  The words of a shard's call but for `--shard`: all paths absolute.
  /// \param request  What is asked.
  /// \throws CallError  where the request is wrong, or what is under way there was asked for with another number of shards; DataError  where
  ///                    the folder cannot be written.
  SlurmTasks(std::filesystem::path folder, const std::vector<std::string>& command, SlurmRequest request);

  /// Looks where the shards are, and submits those that are neither finished nor under way.
  /// \throws Error  where Slurm's programs are not there or refuse, with what they say.
  SlurmState look();

  /// Where a shard's last task wrote what it said; empty where it was not begun.
  [[nodiscard]] std::string log_of(int shard) const;

 private:
  [[nodiscard]] std::set<int> under_way(SlurmState& state) const;
  void submit(const std::vector<int>& shards);
  void read_state(const std::filesystem::path& file);
  void save(bool is_ended) const;

  std::filesystem::path folder_;
  SlurmRequest request_;
  std::string name_;  // of the jobs, by which they are found again
  std::filesystem::path script_;
  std::map<int, int> tries_;         // by shard
  std::map<int, std::string> jobs_;  // of the last try
  std::set<int> missed_;             // not under way when looked at last
};

}  // namespace mnemon
