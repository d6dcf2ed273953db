// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/study/executor.hpp>
#include <mnemon/study/plan.hpp>
#include <mnemon/study/shard.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

/// How far a plan's runs have come.
struct RunProgress {
  int done = 0;          ///< Runs that are done.
  int total = 0;         ///< Runs there are to do.
  std::string label;     ///< The tracker whose run is done.
  std::string sequence;  ///< On this sequence.
};

/// How to run a plan.
struct RunOptions {
  int jobs = 0;  ///< Threads for what is not timed; 0: as many as cores.
  /// The memory that the frames of a sequence may take to be read once for all runs, bytes; left out: half of what is
  /// available.
  std::optional<std::size_t> frame_bytes = {};
  std::function<void(const RunProgress&)> on_progress =
      {};  ///< May be empty; called after each run, one at a time.
  std::optional<Shard> shard =
      {};  ///< Only a share of the plan, into a file of its own; left out: all of it.
  std::string who = "this machine";  ///< Who makes that share, such as a cluster's job.
};

/// What became of a plan.
struct RunSummary {
  int made = 0;                            ///< Runs made now.
  int kept = 0;                            ///< Runs that were in the study already.
  int failed = 0;                          ///< Of those made now.
  WorkTimes times;                         ///< Where the time went.
  int sequences = 0;                       ///< That the plan was run on: of a shard those that are its own.
  std::vector<std::string> left_out = {};  ///< What the plan asks for and nobody can give, a sentence each.
  bool kept_others_out =
      true;  ///< False where the file system cannot keep another program from the same study.
};

/// Runs what of the plan is missing in the folder's study: runs of other parameters, of sequences that have
/// changed since, or of another build are made anew. Runs that are not timed are made side by side, and give the same
/// bits on any number of threads; timed ones follow one at a time. What one run throws is recorded against that run.
/// A sequence that cannot be read fails its runs, each with the reason.
/// \throws DataError  where the study cannot be written: the runs that were made till then are in it; Error  where another program is
///                    writing to it.
RunSummary run_plan(const Plan& plan, const Catalogue& catalogue, const std::filesystem::path& folder,
                    const RunOptions& options);

}  // namespace mnemon
