// SPDX-License-Identifier: MIT
#pragma once
#include <chrono>
#include <condition_variable>
#include <mutex>

namespace mnemon {

/// Tells those who wait that something has changed, without a lock on what that is: whoever is told then asks for that lock like
/// everybody else. Any thread may call.
class Bell {
 public:
  using Clock = std::chrono::steady_clock;  ///< By which waiting ends.

  /// Wakes all who wait.
  void ring() {
    {
      const std::scoped_lock lock(mutex_);
      ++rings_;
    }
    rung_.notify_all();
  }

  /// How often it was rung.
  [[nodiscard]] long rings() const {
    const std::scoped_lock lock(mutex_);
    return rings_;
  }

  /// Waits until it has been rung more often than that, or until then.
  void wait(long rings, Clock::time_point until) const {
    std::unique_lock lock(mutex_);
    rung_.wait_until(lock, until, [&] { return rings_ != rings; });
  }

 private:
  mutable std::mutex mutex_;
  mutable std::condition_variable rung_;
  long rings_ = 0;
};

}  // namespace mnemon
