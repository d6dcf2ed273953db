// SPDX-License-Identifier: MIT
#include <mnemon/base/workers.hpp>

#include <algorithm>

#include <tbb/parallel_for.h>
#include <tbb/partitioner.h>
#include <tbb/task_arena.h>

#ifdef __SANITIZE_THREAD__
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>
#endif

namespace mnemon {
namespace {

#ifdef __SANITIZE_THREAD__
// The pool is built without the thread sanitizer, which cannot see it hand out and join: plain threads instead.
void on_threads(int threads, int count, const std::function<void(int)>& work) {
  std::atomic<int> next = 0;
  std::mutex mutex;
  std::exception_ptr error;
  // Relaxed: taking the next step must not order two steps that nothing else orders.
  const auto take = [&] { return next.fetch_add(1, std::memory_order_relaxed); };
  const auto run = [&] {
    try {
      for (int i = take(); i < count; i = take()) work(i);
    } catch (...) {
      const std::scoped_lock lock(mutex);
      error = std::current_exception();
      next = count;
    }
  };
  {
    std::vector<std::jthread> all;
    for (int t = 0; t < threads; ++t) all.emplace_back(run);
  }
  if (error) std::rethrow_exception(error);
}
#else
void on_threads(int threads, int count, const std::function<void(int)>& work) {
  tbb::task_arena arena(threads);
  arena.execute([&] { tbb::parallel_for(0, count, 1, work, tbb::simple_partitioner()); });
}
#endif

}  // namespace

int core_count() { return std::max(1, tbb::this_task_arena::max_concurrency()); }

void for_each_index(int count, int jobs, const std::function<void(int)>& work) {
  const int threads = jobs > 0 ? std::min(jobs, core_count()) : core_count();
  if (threads == 1 || count <= 1) {
    for (int i = 0; i < count; ++i) work(i);
    return;
  }
  on_threads(threads, count, work);
}

}  // namespace mnemon
