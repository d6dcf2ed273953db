// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include <mnemon/study/bench_sequence.hpp>
#include <mnemon/study/plan.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

/// One run that a plan asks for. What it points to must outlive it.
struct Job {
  const PlannedTracker* tracker = nullptr;  ///< Of the plan.
  const BenchSequence* sequence = nullptr;  ///< Of those that were handed in.
  const Protocol* protocol = nullptr;       ///< Of the plan, or that of generated sequences.
  int start = 0;                            ///< Which of the protocol's starts.
  int repeat = 0;                           ///< From 0.
  std::filesystem::path trace = {};  ///< The file of a run from elsewhere; empty for one that is to be made.
  std::string source = {};           ///< A fingerprint of that file, or of the program that is run.
  bool has_crops = false;            ///< Whether its losses are shown one by one, and need pictures.
  bool keeps_stages = false;         ///< Whether inner pictures are kept as well.
  RunKey key = {};                   ///< In the study, once that knows it.
  std::int64_t build = 0;            ///< Likewise.

  /// Whether its times count, so that nothing else may run beside it.
  [[nodiscard]] bool is_timed() const;
};

/// A tracker of a plan as a study knows it, whatever its label.
struct JobTracker {
  std::string name;    ///< In the catalogue; `traces` or `process` for what is from elsewhere.
  std::string params;  ///< A JSON object with every parameter's value, and what else tells it from others.
};

/// All that a plan asks for.
struct JobList {
  std::vector<JobTracker> trackers;  ///< One for each of the plan's, in its order.
  std::vector<Job> jobs;  ///< By tracker, sequence, protocol, start and repeat, each in the plan's order.
  std::vector<std::string> left_out;  ///< What the plan asks for and nobody can give, a sentence each.
};

/// The protocol of generated sequences.
[[nodiscard]] const Protocol& stress_protocol();

/// Whether the runs of a tracker are made by a program of somebody's, and not by one of the catalogue.
[[nodiscard]] bool is_command(const PlannedTracker& tracker);

/// Lists what a plan asks for. Commands are asked once what they are; nothing is run, and no frame is read.
/// \param plan       Must outlive the list.
/// \param catalogue  Of the trackers that it names.
/// \param sequences  Those to run on, which must outlive the list.
[[nodiscard]] JobList list_jobs(const Plan& plan, const Catalogue& catalogue,
                                const std::vector<BenchSequence>& sequences);

}  // namespace mnemon
