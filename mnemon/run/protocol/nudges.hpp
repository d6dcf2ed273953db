// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/run/protocol.hpp>

namespace mnemon {

/// From twelve boxes that are a little off. Source: Wu, Lim and Yang, CVPR 2013.
struct NudgesParams {
  double shift = 0.1;
  double scale_step = 0.1;
  static void describe(auto& schema) {
    using P = NudgesParams;
    schema.field("shift", &P::shift, {0, 1}, "target sizes",
                 "How far the box is moved, in eight directions.");
    schema.field("scale_step", &P::scale_step, {0, 0.45}, "",
                 "By how much it is scaled: by once and twice this, down and up.");
  }
};

/// The protocol `nudges`.
[[nodiscard]] ProtocolEntry nudges_protocol();

}  // namespace mnemon
