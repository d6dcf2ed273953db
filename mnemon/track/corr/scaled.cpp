// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/scaled.hpp>

namespace mnemon {

Estimate CorrScaled::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  const PatchWindow window = cell_window_of(params_, box);
  const double most = FilterFollower::most_scale(frame.size(), box, window);
  features_ = std::make_unique<CellFeatures>(window.rows(), window.cols(), most * window.width_px(),
                                             most * window.height_px());
  filter_ = std::make_unique<RidgeFilter>(window.rows(), window.cols(), CellFeatures::kChannels,
                                          params_.goal_sigma * window.target_cells(), params_.regulariser);
  follower_.start(frame, box, window, rules_of(params_), *features_, *filter_);
  return {{box, 0}, 1, true};
}

Estimate CorrScaled::do_follow(const Frame& frame) { return follower_.follow(frame); }

std::vector<Stage> CorrScaled::do_stages() { return stages_.of(*features_, *filter_, follower_); }

}  // namespace mnemon
