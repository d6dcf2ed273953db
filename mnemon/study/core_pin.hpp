// SPDX-License-Identifier: MIT
#pragma once
#include <sched.h>

namespace mnemon {

/// Keeps the calling thread on one core while it lives, so that timed work does not move between caches.
/// Where the system refuses, nothing changes.
class CorePin {
 public:
  CorePin();
  CorePin(const CorePin&) = delete;
  CorePin& operator=(const CorePin&) = delete;
  ~CorePin();

  /// Whether the thread is held to one core.
  [[nodiscard]] bool holds() const noexcept { return pinned_; }

 private:
  cpu_set_t before_{};
  bool pinned_ = false;
};

}  // namespace mnemon
