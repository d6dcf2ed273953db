// SPDX-License-Identifier: MIT
#include <mnemon/base/workers.hpp>

#include <algorithm>

#include <tbb/parallel_for.h>
#include <tbb/partitioner.h>
#include <tbb/task_arena.h>

namespace mnemon {

int core_count() { return std::max(1, tbb::this_task_arena::max_concurrency()); }

void for_each_index(int count, int jobs, const std::function<void(int)>& work) {
  const int threads = jobs > 0 ? std::min(jobs, core_count()) : core_count();
  if (threads == 1 || count <= 1) {
    for (int i = 0; i < count; ++i) work(i);
    return;
  }
  tbb::task_arena arena(threads);
  arena.execute([&] { tbb::parallel_for(0, count, 1, work, tbb::simple_partitioner()); });
}

}  // namespace mnemon
