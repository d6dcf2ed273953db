// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/reliable.hpp>

#include <utility>

namespace mnemon {

FollowRules CorrReliable::rules() const noexcept {
  FollowRules rules = rules_of(params_);
  rules.turn_deg = params_.turn_deg;
  rules.colour_rate = params_.colour_rate;
  rules.colour_weight = params_.colour_weight;
  rules.keeps_shape = true;
  return rules;
}

Estimate CorrReliable::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  const PatchWindow window = cell_window_of(params_, box);
  filter_.start(frame, box, window, FilterFollower::most_scale(frame.size(), box, window), rules(),
                CellFeatures::kChannels,
                MaskedFilter::Options{params_.goal_sigma * window.target_cells(), params_.regulariser,
                                      params_.iterations, params_.channel_rate});
  return {{box, 0}, 1, true};
}

Estimate CorrReliable::do_follow(const Frame& frame) { return filter_.follower().follow(frame); }

std::vector<Stage> CorrReliable::do_stages() {
  std::vector<Stage> stages = stages_.of(filter_.features(), filter_.filter(), filter_.follower());
  stages.insert(stages.begin() + 2,
                {{"likelihood", filter_.follower().likelihood(), filter_.follower().window()},
                 {"mask", filter_.filter().mask()}});
  return stages;
}

}  // namespace mnemon
