// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/cell_stages.hpp>

#include <utility>

namespace mnemon {

std::vector<Stage> CellStages::of(const CellFeatures& features, const StackFilter& filter,
                                  const FilterFollower& follower) {
  channels_ = features.channels_picture();
  filter_ = filter.picture();
  return {{"patch", features.grey(), follower.window()},
          {"channels", std::as_const(channels_).view()},
          {"filter", std::as_const(filter_).view()},
          {"response", follower.response(), follower.window()}};
}

}  // namespace mnemon
