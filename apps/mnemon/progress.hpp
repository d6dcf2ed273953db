// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/base/stopwatch.hpp>

namespace mnemon::app {

/// One line on standard error that says how far the work is and how long it will still take; only on a
/// terminal.
class ProgressLine {
 public:
  explicit ProgressLine(std::string what);
  ProgressLine(const ProgressLine&) = delete;
  ProgressLine& operator=(const ProgressLine&) = delete;
  ~ProgressLine();

  /// \param total  0 where it is not known.
  void show(int done, int total, const std::string& at = "");

 private:
  std::string what_;
  bool on_terminal_;
  bool shown_ = false;
  double last_ms_ = -1e9;
  Stopwatch stopwatch_;
};

}  // namespace mnemon::app
