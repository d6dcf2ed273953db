// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/scaled.hpp>

namespace mnemon {

Estimate CorrScaled::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  const PatchWindow window = cell_window_of(params_, box);
  filter_.start(frame, box, window, FilterFollower::most_scale(frame.size(), box, window), rules_of(params_),
                CellFeatures::kChannels, params_.goal_sigma * window.target_cells(), params_.regulariser);
  return {{box, 0}, 1, true};
}

Estimate CorrScaled::do_follow(const Frame& frame) { return filter_.follower().follow(frame); }

std::vector<Stage> CorrScaled::do_stages() {
  return stages_.of(filter_.features(), filter_.filter(), filter_.follower());
}

}  // namespace mnemon
