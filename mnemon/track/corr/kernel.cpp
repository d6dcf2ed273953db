// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/kernel.hpp>

namespace mnemon {

Estimate CorrKernel::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  const PatchWindow window = cell_window_of(params_, box);
  features_ =
      std::make_unique<CellFeatures>(window.rows(), window.cols(), window.width_px(), window.height_px());
  filter_ = std::make_unique<KernelFilter>(window.rows(), window.cols(), CellFeatures::kChannels,
                                           params_.goal_sigma * window.target_cells(), params_.regulariser,
                                           params_.kernel == "linear" ? Kernel::linear : Kernel::gaussian,
                                           params_.kernel_sigma);
  follower_.start(frame, box, window, rules_of(params_), *features_, *filter_);
  return {{box, 0}, 1, true};
}

Estimate CorrKernel::do_follow(const Frame& frame) { return follower_.follow(frame); }

std::vector<Stage> CorrKernel::do_stages() { return stages_.of(*features_, *filter_, follower_); }

}  // namespace mnemon
