// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/plain.hpp>

#include <algorithm>

namespace mnemon {

Estimate MaskPlain::do_seed(const Frame& frame, const Region& region, const Box& box) {
  last_ = target_.start(frame, region, box, params_);
  sure_ = last_;
  motion_ = MotionForecast(frame.size());
  return estimate(1, true);
}

Estimate MaskPlain::do_follow(const Frame& frame) {
  target_.take(frame);
  const bool lost = motion_.is_lost();
  TargetPose from = last_.pose;
  from.middle = motion_.of(last_.pose.middle, last_.box.w, last_.box.h);
  MaskSighting seen = target_.look(frame, from);
  if (lost && seen.confidence < params_.refind_from) seen = search(frame);
  if (seen.confidence >= (lost ? params_.refind_from : params_.present_from)) {
    motion_.found(last_.pose.middle, seen.pose.middle);
    last_ = seen;
    target_.found();
    if (seen.confidence >= params_.learn_from) {
      target_.learn(seen);
      if (seen.visible > kWhole) sure_ = seen;
    }
    return estimate(seen.confidence, true);
  }
  motion_.missed();
  target_.expect_whole(true);
  if (motion_.is_newly_lost()) target_.start_search();
  last_.box.x += from.middle.x - last_.pose.middle.x;
  last_.box.y += from.middle.y - last_.pose.middle.y;
  last_.pose = from;
  last_.take_size(sure_);
  return estimate(std::min(seen.confidence, params_.present_from), false);
}

MaskSighting MaskPlain::search(const Frame& frame) noexcept {
  TargetPose there = last_.pose;
  there.middle = target_.search(frame, last_.box);
  MaskSighting seen = target_.look(frame, there);
  if (seen.confidence < params_.refind_from) seen = target_.look(frame, target_.pose_of_mask(seen));
  if (seen.confidence < params_.refind_from) target_.leave_out(there.middle);
  return seen;
}

Estimate MaskPlain::estimate(double confidence, bool present) noexcept {
  Estimate estimate{params_.turned_box && present ? last_.turned : OrientedBox{last_.box, 0}, confidence,
                    present};
  estimate.mask = target_.frame_mask(present);
  if (present) estimate.minor_px = last_.minor_px;
  return estimate;
}

}  // namespace mnemon
