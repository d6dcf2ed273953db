// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/kernel.hpp>

namespace mnemon {

Estimate CorrKernel::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  const PatchWindow window = cell_window_of(params_, box);
  filter_.start(frame, box, window, 1, rules_of(params_), CellFeatures::kChannels,
                params_.goal_sigma * window.target_cells(), params_.regulariser,
                params_.kernel == "linear" ? Kernel::linear : Kernel::gaussian, params_.kernel_sigma);
  return {{box, 0}, 1, true};
}

Estimate CorrKernel::do_follow(const Frame& frame) { return filter_.follower().follow(frame); }

std::vector<Stage> CorrKernel::do_stages() {
  return stages_.of(filter_.features(), filter_.filter(), filter_.follower());
}

}  // namespace mnemon
