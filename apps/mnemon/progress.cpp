// SPDX-License-Identifier: MIT
#include "progress.hpp"

#include <algorithm>
#include <cmath>
#include <cstdio>

#include <fmt/format.h>
#include <unistd.h>

#include <mnemon/base/plain_text.hpp>

namespace mnemon::app {
namespace {

constexpr double kRefreshMs = 100;
constexpr double kLineMs = 60'000;  // where nobody watches
constexpr const char* kClearLine = "\r\033[K";

std::string left_text(double elapsed_ms, int done, int total) {
  if (done <= 0 || total <= 0) return "";
  const int seconds = static_cast<int>(std::lround(elapsed_ms / done * (total - done) / 1000));
  return seconds >= 60 ? fmt::format(", {} min {:02d} s left", seconds / 60, seconds % 60)
                       : fmt::format(", {} s left", seconds);
}

// A bar of twenty parts, where somebody watches.
std::string bar_text(int done, int total) {
  constexpr int kParts = 20;
  if (total <= 0) return "";
  const int full = std::clamp(kParts * done / total, 0, kParts);
  std::string bar = "  ";
  for (int i = 0; i < kParts; ++i) bar += i < full ? "█" : "░";
  return bar;
}

}  // namespace

ProgressLine::ProgressLine(std::string what)
    : what_(std::move(what)),
      on_terminal_(::isatty(STDERR_FILENO) == 1),
      last_ms_(on_terminal_ ? -kRefreshMs : 0) {}

void ProgressLine::show(int done, int total, const std::string& at) {
  const double now_ms = stopwatch_.elapsed_ms();
  if (now_ms - last_ms_ < (on_terminal_ ? kRefreshMs : kLineMs) && (done < total || !on_terminal_)) return;
  last_ms_ = now_ms;
  shown_ = on_terminal_;
  const std::string of = total > 0 ? fmt::format(" of {}", total) : "";
  const std::string line =
      plain_line(fmt::format("{}: {}{}{}{}{}", what_, done, of, on_terminal_ ? bar_text(done, total) : "",
                             left_text(now_ms, done, total), at.empty() ? "" : "  " + at));
  std::fputs(((on_terminal_ ? kClearLine : "") + line + (on_terminal_ ? "" : "\n")).c_str(), stderr);
  std::fflush(stderr);
}

ProgressLine::~ProgressLine() {
  if (!shown_) return;
  std::fputs(kClearLine, stderr);
  std::fflush(stderr);
}

}  // namespace mnemon::app
