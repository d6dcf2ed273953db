// SPDX-License-Identifier: MIT
#pragma once

namespace mnemon {

/// Frames from one to another, both included.
struct FrameSpan {
  int from = 0;  ///< The first frame.
  int to = 0;    ///< The last one, which belongs to it.
  bool operator==(const FrameSpan&) const = default;
};

}  // namespace mnemon
