// SPDX-License-Identifier: MIT
#include <mnemon/study/core_pin.hpp>

#include <cerrno>
#include <string>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace mnemon {
namespace {

// The lock of a core; below 0 where there can be none, such as where another user has made it.
int open_lock(int core) {
  const std::string file = "/dev/shm/mnemon-core-" + std::to_string(core);
  const int lock = ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0666);
  if (lock >= 0) static_cast<void>(::fchmod(lock, 0666));  // others need it too
  return lock;
}

bool take(int lock, int how) {
  int code = 0;
  while ((code = ::flock(lock, how)) != 0 && errno == EINTR) continue;
  return code == 0;
}

}  // namespace

CorePin::CorePin() {
  if (::sched_getaffinity(0, sizeof before_, &before_) != 0) return;
  int last = -1;
  // The last core first: the first is where most systems serve their interrupts.
  for (int core = CPU_SETSIZE - 1; core >= 0; --core) {
    if (!CPU_ISSET(core, &before_)) continue;
    if (last < 0) last = core;
    lock_ = open_lock(core);
    if (lock_ < 0 || take(lock_, LOCK_EX | LOCK_NB)) {
      pinned_ = pin_to(core);
      return;
    }
    ::close(lock_);
  }
  lock_ = last >= 0 ? open_lock(last) : -1;
  if (lock_ >= 0) take(lock_, LOCK_EX);
  pinned_ = last >= 0 && pin_to(last);
}

bool CorePin::pin_to(int core) {
  cpu_set_t one;
  CPU_ZERO(&one);
  CPU_SET(core, &one);
  return ::sched_setaffinity(0, sizeof one, &one) == 0;
}

CorePin::~CorePin() {
  if (pinned_) ::sched_setaffinity(0, sizeof before_, &before_);
  if (lock_ >= 0) ::close(lock_);  // and with it the lock goes
}

}  // namespace mnemon
