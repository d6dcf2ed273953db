// SPDX-License-Identifier: MIT
#include <mnemon/study/executor.hpp>

#include <algorithm>
#include <mutex>
#include <span>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/base/workers.hpp>

namespace mnemon {
namespace {

class Executor {
 public:
  Executor(const Catalogue& catalogue, const ExecutorOptions& options, const TakeRun& take)
      : catalogue_(catalogue), options_(options), take_(take) {}

  void work_on_sequence(std::span<const Job> jobs) {
    std::vector<const Job*> untimed;
    std::vector<const Job*> timed;
    for (const Job& job : jobs) (job.is_timed() ? timed : untimed).push_back(&job);
    Ground ground;
    Stopwatch stopwatch;
    try {
      open(jobs, ground);
    } catch (const Error& error) {
      StudyRun run;
      run.failure = error.what();
      for (const Job& job : jobs) hand_over(job, run, 0, ground);
      return;
    }
    times_.read_ms += stopwatch.elapsed_ms();
    stopwatch = {};
    for_each_index(static_cast<int>(untimed.size()), options_.threads,
                   [&](int i) { work(*untimed[static_cast<std::size_t>(i)], ground); });
    times_.untimed_ms += stopwatch.elapsed_ms();
    for (const Job* job : timed) work(*job, ground);
  }

  [[nodiscard]] const WorkTimes& times() const { return times_; }

 private:
  void open(std::span<const Job> jobs, Ground& ground) const {
    ground.sequence = jobs.front().sequence->open();
    if (std::ranges::any_of(jobs, [](const Job& job) { return job.trace.empty(); }))
      ground.frames.emplace(ground.sequence.frames, options_.frame_bytes.value_or(memory_for_frames()),
                            options_.threads);
  }

  void work(const Job& job, const Ground& ground) {
    const Stopwatch stopwatch;
    const StudyRun run = run_job(job, ground, catalogue_, options_.rules);
    const double work_ms = stopwatch.elapsed_ms();
    hand_over(job, run, work_ms, ground);
  }

  void hand_over(const Job& job, const StudyRun& run, double work_ms, const Ground& ground) {
    const Stopwatch waiting;
    const std::scoped_lock lock(mutex_);
    take_(job, run, ground);
    (job.is_timed() ? times_.timed_ms : times_.work_ms) += work_ms;
    times_.take_ms += waiting.elapsed_ms();
  }

  const Catalogue& catalogue_;
  const ExecutorOptions& options_;
  const TakeRun& take_;
  std::mutex mutex_;
  WorkTimes times_;
};

}  // namespace

WorkTimes execute(std::vector<Job> jobs, const Catalogue& catalogue, const ExecutorOptions& options,
                  const TakeRun& take) {
  std::ranges::stable_sort(jobs, {}, [](const Job& job) { return job.sequence; });
  Executor executor(catalogue, options, take);
  for (auto begin = jobs.begin(); begin != jobs.end();) {
    const auto end =
        std::find_if(begin, jobs.end(), [&](const Job& job) { return job.sequence != begin->sequence; });
    executor.work_on_sequence(std::span(begin, end));
    begin = end;
  }
  return executor.times();
}

}  // namespace mnemon
