// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/base/stopwatch.hpp>

namespace mnemon::app {

/// One line on standard error that says how far the work is and how long it will still take: on a terminal always the
/// same one, elsewhere a new one each minute.
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
  double last_ms_;
  Stopwatch stopwatch_;
};

}  // namespace mnemon::app
