// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <vector>

#include <mnemon/sequence/trace.hpp>

namespace mnemon::test {

// Where the target is, and where it is not.
inline const Box kThere{10, 10, 20, 20};
inline const Box kElsewhere{40, 10, 20, 20};

// Answers elsewhere on these frames.
inline std::map<int, Box> off_from(int first, int last) {
  std::map<int, Box> script;
  for (int i = first; i <= last; ++i) script[i] = kElsewhere;
  return script;
}

inline std::vector<int> with_event(const Trace& trace, Event event) {
  std::vector<int> frames;
  for (const TraceRow& row : trace.rows)
    if (row.event == event) frames.push_back(row.frame);
  return frames;
}

}  // namespace mnemon::test
