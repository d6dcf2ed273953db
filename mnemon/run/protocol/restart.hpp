// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/run/protocol.hpp>

namespace mnemon {

/// Started afresh from truth after each loss. Source: Kristan and others, TPAMI 2016.
struct RestartParams {
  double loss_overlap = kLossOverlap;
  int loss_patience = kLossPatience;
  int restart_gap = 5;
  int restart_settle = kRestartSettle;
  double min_visible = 0.5;
  static void describe(auto& schema) {
    using P = RestartParams;
    schema.field("loss_overlap", &P::loss_overlap, {0, 1}, "", "A present frame with less overlap is off.");
    schema.field("loss_patience", &P::loss_patience, {1, 1000}, "frames",
                 "So many off frames in a row are a loss.");
    schema.field("restart_gap", &P::restart_gap, {1, 1000}, "frames",
                 "From so many frames after a loss on it may be started again.");
    schema.field("restart_settle", &P::restart_settle, {0, 1000}, "frames",
                 "So many frames after a fresh start are not scored.");
    schema.field("min_visible", &P::min_visible, {0, 1}, "of the target",
                 "How much of the target must be seen on a frame to start from.");
  }
};

/// From a start to the end, started afresh from truth after each loss: the frame on which the loss is certain has the
/// event `loss`, the next on which it may start again `reseed`, and those between are skipped, with empty numbers.
[[nodiscard]] Trace follow_with_restarts(Tracker& tracker, FrameSource& frames, const Start& start,
                                         const Truth& truth, const RestartParams& params,
                                         StepLimit limit = {});

/// The protocol `restart`.
[[nodiscard]] ProtocolEntry restart_protocol();

}  // namespace mnemon
