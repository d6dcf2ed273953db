// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <vector>

#include <mnemon/sequence/sequence.hpp>
#include <mnemon/study/frame_store.hpp>
#include <mnemon/study/plan.hpp>
#include <mnemon/study/study.hpp>

namespace mnemon {

/// A sequence that is ready to be read.
struct OpenSequence {
  Sequence facts;      ///< With its truth.
  FrameOrigin frames;  ///< Where they come from.
};

/// A sequence that runs can be made on, read from disk or generated.
struct BenchSequence {
  StudySequence study;                 ///< Without truth and pictures, which are in the study's file.
  std::function<OpenSequence()> open;  ///< Dear where it is generated.
  std::int64_t id = 0;                 ///< In the study's file.
  int place = 0;                       ///< Among all of the plan.
  /// How many runs each of the plan's protocols begins on it; empty for one each.
  std::vector<int> starts = {};
};

/// Counts a sequence's starts, and forgets its truth: it comes with the frames once more, and that of many sequences is large.
void count_starts(const Plan& plan, BenchSequence& bench);

/// The sequences of a plan, each of them in the study: its own first, then the generated ones. `jobs` are threads; 0:
/// as many as cores. One that cannot be read, or has no truth with the target present, has its `failure` and throws
/// it when it is opened.
/// \param shard  Left out: all. Otherwise those of the shard; what the others are is not looked at, but for their truth, by which they
///               are dealt out.
[[nodiscard]] std::vector<BenchSequence> bench_sequences(const Plan& plan, int jobs, StudyWriter& writer,
                                                         const std::optional<Shard>& shard = {});

}  // namespace mnemon
