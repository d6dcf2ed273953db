// SPDX-License-Identifier: MIT
#include <mnemon/study/core_pin.hpp>

namespace mnemon {

CorePin::CorePin() {
  if (::sched_getaffinity(0, sizeof before_, &before_) != 0) return;
  // The last core: the first is where most systems serve their interrupts.
  for (int core = CPU_SETSIZE - 1; core >= 0 && !pinned_; --core) {
    if (!CPU_ISSET(core, &before_)) continue;
    cpu_set_t one;
    CPU_ZERO(&one);
    CPU_SET(core, &one);
    pinned_ = ::sched_setaffinity(0, sizeof one, &one) == 0;
  }
}

CorePin::~CorePin() {
  if (pinned_) ::sched_setaffinity(0, sizeof before_, &before_);
}

}  // namespace mnemon
