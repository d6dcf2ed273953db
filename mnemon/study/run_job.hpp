// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <mutex>
#include <optional>
#include <vector>

#include <mnemon/run/protocol.hpp>
#include <mnemon/study/frame_store.hpp>
#include <mnemon/study/job.hpp>

namespace mnemon {

/// The true masks of a sequence, read when the first run with masks asks for them. Any thread may ask.
class TrueMasks {
 public:
  /// \param sequence  The same at each call.
  /// \throws DataError  where they cannot be read.
  [[nodiscard]] const std::vector<FrameRuns>& of(const Sequence& sequence) const {
    std::call_once(once_, [&] { masks_ = read_true_masks(sequence); });
    return masks_;
  }

 private:
  mutable std::once_flag once_;
  mutable std::vector<FrameRuns> masks_;
};

/// A sequence while runs are made on it.
struct Ground {
  OpenSequence sequence;             ///< What is known of it, and where its frames come from.
  std::optional<FrameStore> frames;  ///< Read once for all runs; none where all of them are from elsewhere.
  TrueMasks masks;                   ///< Of that sequence.
};

/// How a job is run.
struct JobRules {
  StepLimit limit;               ///< What a step may take.
  std::size_t moment_bytes = 0;  ///< How much its crops and inner pictures may take together.
};

/// Makes the run of a job, or takes it from its file, and scores it. Times are taken on a core of its own where they count.
/// \returns  What came of it: where a tracker or the file failed, the reason is its `failure`.
[[nodiscard]] StudyRun run_job(const Job& job, const Ground& ground, const Catalogue& catalogue,
                               const JobRules& rules);

}  // namespace mnemon
