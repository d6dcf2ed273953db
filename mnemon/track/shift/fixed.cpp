// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/fixed.hpp>

namespace mnemon {

Estimate ShiftFixed::do_seed(const Frame& frame, const Region& region, const Box& box) {
  return follower_.start(frame, region, box, params_);
}

}  // namespace mnemon
