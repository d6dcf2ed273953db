// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/blob/weighed_window.hpp>

namespace mnemon::test {

inline constexpr FrameSize kBrightFrame{200, 160};
inline constexpr CellGrid kBrightGrid{0.5f, 20, 10, 2};
inline constexpr double kBright = 0.9;
inline constexpr double kDull = 0.1;

// A window of 80 x 60 cells, not smoothed, of which those in a box stand out; 0.3 is neutral in it.
inline WeighedWindow bright_window(const Box& box, int top = kBrightGrid.top) {
  Image<float> weights(60, 80);
  for (int r = 0; r < 60; ++r)
    for (int c = 0; c < 80; ++c) {
      const bool is_in = c >= box.x && c < box.x + box.w && r >= box.y && r < box.y + box.h;
      weights(r, c) = static_cast<float>(is_in ? kBright : kDull);
    }
  CellGrid grid = kBrightGrid;
  grid.top = top;
  WeighedWindow window(kBrightFrame);
  window.take({weights.view(), grid}, 0, 0.3);
  return window;
}

}  // namespace mnemon::test
