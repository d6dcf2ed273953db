// SPDX-License-Identifier: MIT
#pragma once

namespace mnemon {

/// Frames from one to another, both included.
struct FrameSpan {
  int from = 0;
  int to = 0;
  bool operator==(const FrameSpan&) const = default;
};

}  // namespace mnemon
