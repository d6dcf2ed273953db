// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <string>

#include <mnemon/study/plan.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

/// How far a plan's runs have come.
struct RunProgress {
  int done = 0;
  int total = 0;
  std::string label;     ///< The tracker at work.
  std::string sequence;  ///< On this sequence.
};

/// How to run a plan.
struct RunOptions {
  int jobs = 0;  ///< Threads for what is not timed; 0: as many as cores.
  std::function<void(const RunProgress&)>
      on_progress;  ///< May be empty; called before each run and at the end.
};

/// What became of a plan.
struct RunSummary {
  int made = 0;    ///< Runs made now.
  int kept = 0;    ///< Runs that were in the study already.
  int failed = 0;  ///< Of those made now.
};

/// Runs what of the plan is missing in the folder's study: runs of other parameters, of sequences that have
/// changed since, or of another build are made anew. What one run throws is recorded against that run.
/// \throws DataError  where a sequence cannot be read or has no truth, or the study cannot be written.
RunSummary run_plan(const Plan& plan, const Catalogue& catalogue, const std::filesystem::path& folder,
                    const RunOptions& options);

}  // namespace mnemon
