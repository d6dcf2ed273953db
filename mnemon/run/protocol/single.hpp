// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/run/protocol.hpp>

namespace mnemon {

/// Once, from the first truth box to the end.
struct SingleParams {
  bool timed = true;
  static void describe(auto& schema) {
    schema.field(
        "timed", &SingleParams::timed,
        "Whether runs are timed: one at a time on one core. Without, they run on all cores, and there are "
        "no speeds.");
  }
};

/// The protocol `single`.
[[nodiscard]] ProtocolEntry single_protocol();

}  // namespace mnemon
