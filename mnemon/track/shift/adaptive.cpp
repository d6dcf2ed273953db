// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/adaptive.hpp>

namespace mnemon {

Estimate ShiftAdaptive::do_seed(const Frame& frame, const Region& region, const Box& box) {
  return follower_.start(frame, region, box, params_,
                         ShapeFit::Limits{params_.most_growth, params_.turn_rate, params_.turns});
}

}  // namespace mnemon
