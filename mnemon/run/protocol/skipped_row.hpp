// SPDX-License-Identifier: MIT
#pragma once
#include <limits>

#include <mnemon/sequence/trace.hpp>

namespace mnemon {

/// The row of a frame that no tracker was given, while there is no answer either.
[[nodiscard]] inline TraceRow skipped_row(int frame) {
  constexpr double kNone = std::numeric_limits<double>::quiet_NaN();
  return {frame, {{kNone, kNone, kNone, kNone}, 0}, 0, false, {}, Event::skip};
}

}  // namespace mnemon
