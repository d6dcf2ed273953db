// SPDX-License-Identifier: MIT
#pragma once
#include <functional>

namespace mnemon {

/// The number of cores that this process may run on, at least 1.
[[nodiscard]] int core_count();

/// Calls `work(i)` once for each i in [0, count), on at most `jobs` threads, and no more than there are cores
/// (0: as many as those). Waits for all; the first exception thrown is thrown again here, and calls that have
/// not begun are dropped. The order of calls is not fixed, so `work` writes only to what belongs to its own
/// i.
void for_each_index(int count, int jobs, const std::function<void(int)>& work);

}  // namespace mnemon
