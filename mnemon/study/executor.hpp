// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

#include <mnemon/study/run_job.hpp>

namespace mnemon {

/// How jobs are worked off.
struct ExecutorOptions {
  int threads = 0;  ///< For what is not timed; 0: as many as cores.
  /// The memory that the frames of a sequence may take to be read once for all runs, bytes; left out: half of what is
  /// available.
  std::optional<std::size_t> frame_bytes = {};
  JobRules rules = {};  ///< For each job.
};

/// Where the time went, ms.
struct WorkTimes {
  double read_ms = 0;     ///< Reading frames for all runs together.
  double untimed_ms = 0;  ///< By the clock, of the runs side by side.
  double work_ms = 0;     ///< Of those runs, the time of each summed up.
  double timed_ms = 0;    ///< Of runs one at a time, their warm-up included.
  double take_ms = 0;     ///< Handing runs over and waiting for that, within the two above.
};

/// Takes a run that is done, as one at a time, whichever thread made it.
using TakeRun = std::function<void(const Job&, const StudyRun&, const Ground&)>;

/// Works jobs off, those of a sequence together, as its frames are in memory one sequence at a time. Runs that are not timed are
/// made side by side, and timed ones follow one at a time. A sequence that cannot be opened fails its runs, each with the reason.
/// \param jobs  In any order: their sequences, which lie in one array, come in that of the array.
/// \throws  What `take` throws; then no further job is begun.
WorkTimes execute(std::vector<Job> jobs, const Catalogue& catalogue, const ExecutorOptions& options,
                  const TakeRun& take);

}  // namespace mnemon
