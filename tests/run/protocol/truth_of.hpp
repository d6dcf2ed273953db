// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/sequence/truth.hpp>

namespace mnemon::test {

// A box that moves, and what share of it is visible on each frame.
inline Truth truth_of(const std::vector<double>& visible) {
  Truth truth;
  for (int i = 0; i < static_cast<int>(visible.size()); ++i)
    truth.rows.push_back({i, {{double(i), 10, 20, 40}, 0}, visible[i] > 0, visible[i], {}});
  return truth;
}

}  // namespace mnemon::test
