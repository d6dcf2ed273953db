// SPDX-License-Identifier: MIT
#include <mnemon/base/workers.hpp>

#include <algorithm>

#include <tbb/parallel_for.h>
#include <tbb/partitioner.h>
#include <tbb/task_arena.h>

#ifdef __SANITIZE_THREAD__
#include <sanitizer/tsan_interface.h>
#endif

namespace mnemon {
namespace {

// The pool is built without the thread sanitizer, which cannot see that a loop waits for its steps: this tells it.
struct StepEnds {
  void* loop;
  ~StepEnds() {
#ifdef __SANITIZE_THREAD__
    __tsan_release(loop);
#endif
  }
};
struct LoopEnds {
  void* loop;
  ~LoopEnds() {
#ifdef __SANITIZE_THREAD__
    __tsan_acquire(loop);
#endif
  }
};

}  // namespace

int core_count() { return std::max(1, tbb::this_task_arena::max_concurrency()); }

void for_each_index(int count, int jobs, const std::function<void(int)>& work) {
  const int threads = jobs > 0 ? std::min(jobs, core_count()) : core_count();
  if (threads == 1 || count <= 1) {
    for (int i = 0; i < count; ++i) work(i);
    return;
  }
  tbb::task_arena arena(threads);
  const std::function<void(int)> step = [&](int i) {
    const StepEnds step_ends{&arena};
    work(i);
  };
  const LoopEnds loop_ends{&arena};
  arena.execute([&] { tbb::parallel_for(0, count, 1, step, tbb::simple_partitioner()); });
}

}  // namespace mnemon
