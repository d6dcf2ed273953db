// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <vector>

#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>

namespace mnemon::test {

// A target that rests, and is there on some frames.
inline Truth truth_of(const std::vector<int>& present) {
  Truth truth;
  for (int i = 0; i < static_cast<int>(present.size()); ++i)
    truth.rows.push_back({i, {{10, 10, 10, 10}, 0}, present[i] != 0, 1});
  return truth;
}

// A trace whose overlaps with the boxes of truth_of are these; -1 for `not present`.
inline Trace trace_of(const std::vector<double>& overlaps) {
  Trace trace;
  for (int i = 0; i < static_cast<int>(overlaps.size()); ++i) {
    TraceRow row{i, {{10, 10, 10, 10}, 0}, 1, overlaps[i] >= 0, {}, i == 0 ? Event::seed : Event::none};
    row.box.box.h = 10 * std::max(0.01, overlaps[i]);
    trace.rows.push_back(row);
  }
  return trace;
}

}  // namespace mnemon::test
