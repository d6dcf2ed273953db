// SPDX-License-Identifier: MIT
#pragma once
#include <sched.h>

namespace mnemon {

/// Keeps the calling thread on one core while it lives, so that timed work does not move between caches. Of several programs
/// that do so at the same time each has a core of its own: a lock a core, in /dev/shm, keeps them apart, and where there is no core
/// left the last of them is waited for. Where the system refuses, nothing changes. One process has one at a time.
class CorePin {
 public:
  CorePin();
  CorePin(const CorePin&) = delete;
  CorePin& operator=(const CorePin&) = delete;
  ~CorePin();

  /// Whether the thread is held to one core.
  [[nodiscard]] bool holds() const noexcept { return pinned_; }

 private:
  bool pin_to(int core);

  cpu_set_t before_{};
  int lock_ = -1;
  bool pinned_ = false;
};

}  // namespace mnemon
