// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/adaptive.hpp>

namespace mnemon {

Estimate ShiftAdaptive::do_seed(const Frame& frame, const Region& region, const Box& box) {
  return follower_.start(frame, region, box, params_, limits());
}

}  // namespace mnemon
