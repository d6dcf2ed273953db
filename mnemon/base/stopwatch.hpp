// SPDX-License-Identifier: MIT
#pragma once
#include <chrono>

namespace mnemon {

/// Time since it was made, by the monotonic clock.
class Stopwatch {
 public:
  /// Milliseconds since the stopwatch was made.
  [[nodiscard]] double elapsed_ms() const {
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start_).count();
  }

 private:
  std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

}  // namespace mnemon
