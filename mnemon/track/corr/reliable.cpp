// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/reliable.hpp>

#include <algorithm>

namespace mnemon {

Estimate CorrReliable::do_seed(const Frame& frame, const Region& /*region*/, const Box& box) {
  window_ = cell_window_of(params_, box);
  const double most = FilterFollower::most_scale(frame.size(), box, window_);
  features_ = std::make_unique<CellFeatures>(window_.rows(), window_.cols(), most * window_.width_px(),
                                             most * window_.height_px());
  filter_ = std::make_unique<MaskedFilter>(
      window_.rows(), window_.cols(), CellFeatures::kChannels,
      MaskedFilter::Options{params_.goal_sigma * window_.target_cells(), params_.regulariser,
                            params_.iterations, params_.channel_rate});
  mask_ = TargetMask(window_.rows(), window_.cols());
  FollowRules rules = rules_of(params_);
  rules.turn_deg = params_.turn_deg;
  rules.colour_rate = params_.colour_rate;
  rules.colour_weight = params_.colour_weight;
  follower_.start(frame, box, window_, rules, *features_, *filter_,
                  [this](ImageView<const float> likelihood) { update_mask(likelihood); });
  return {{box, 0}, 1, true};
}

void CorrReliable::update_mask(ImageView<const float> likelihood) {
  const ImageView<const float> mask = mask_.find(likelihood, window_.target_share());
  std::ranges::copy(mask.elements(), filter_->mask().elements().begin());
}

Estimate CorrReliable::do_follow(const Frame& frame) { return follower_.follow(frame); }

std::vector<Stage> CorrReliable::do_stages() {
  std::vector<Stage> stages = stages_.of(*features_, *filter_, follower_);
  stages.insert(stages.begin() + 2, {{"likelihood", follower_.likelihood()}, {"mask", mask_.mask()}});
  return stages;
}

}  // namespace mnemon
