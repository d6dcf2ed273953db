// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/run/protocol.hpp>

namespace mnemon {

/// From several frames on, each time to the end. Source: Wu, Lim and Yang, CVPR 2013.
struct StartsParams {
  int count = 10;
  double min_visible = 0.5;
  static void describe(auto& schema) {
    using P = StartsParams;
    schema.field("count", &P::count, {1, 1000}, "starts", "How many frames it starts from, evenly spread.");
    schema.field("min_visible", &P::min_visible, {0, 1}, "of the target",
                 "How much of the target must be seen on a frame to start from.");
  }
};

/// The protocol `starts`.
[[nodiscard]] ProtocolEntry starts_protocol();

}  // namespace mnemon
