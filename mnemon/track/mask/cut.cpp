// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/cut.hpp>

#include <algorithm>

namespace mnemon {
namespace {

constexpr double kVelocityRate = 0.3;
constexpr double kVelocityKept = 0.9;  // of the forecast's speed, a frame without the target
constexpr int kFramesUntilSearch = 2;

}  // namespace

Estimate MaskCut::do_seed(const Frame& frame, const Region& region, const Box& box) {
  last_ = target_.start(frame, region, box, mask_rules_of(params_));
  velocity_ = {};
  frames_lost_ = 0;
  size_ = frame.size();
  return estimate(1, true);
}

Pose MaskCut::forecast() const noexcept {
  Pose pose = last_.pose;
  pose.middle = {std::clamp(pose.middle.x + velocity_.x, 0.0, 1.0 * size_.width),
                 std::clamp(pose.middle.y + velocity_.y, 0.0, 1.0 * size_.height)};
  return pose;
}

Estimate MaskCut::do_follow(const Frame& frame) {
  const bool lost = frames_lost_ >= kFramesUntilSearch;
  const Pose from = forecast();
  MaskSighting seen = target_.look(frame, from);
  if (lost && seen.confidence < params_.refind_from) {
    Pose there = last_.pose;
    there.middle = target_.search(frame, last_.box);
    const MaskSighting other = target_.look(frame, there);
    if (other.confidence < params_.refind_from) target_.leave_out(there.middle);
    seen = other;
  }
  if (seen.confidence >= (lost ? params_.refind_from : params_.present_from)) {
    const Point moved{seen.pose.middle.x - last_.pose.middle.x, seen.pose.middle.y - last_.pose.middle.y};
    if (frames_lost_ > 0)
      velocity_ = {};
    else
      velocity_ = {velocity_.x + kVelocityRate * (moved.x - velocity_.x),
                   velocity_.y + kVelocityRate * (moved.y - velocity_.y)};
    frames_lost_ = 0;
    last_ = seen;
    if (seen.confidence >= params_.learn_from) target_.learn(seen);
    return estimate(seen.confidence, true);
  }
  if (++frames_lost_ == kFramesUntilSearch) target_.start_search();
  const Point moved{from.middle.x - last_.pose.middle.x, from.middle.y - last_.pose.middle.y};
  last_.pose = from;
  last_.box.x += moved.x;
  last_.box.y += moved.y;
  velocity_ = {kVelocityKept * velocity_.x, kVelocityKept * velocity_.y};
  return estimate(std::min(seen.confidence, params_.present_from), false);
}

Estimate MaskCut::estimate(double confidence, bool present) noexcept {
  Estimate estimate{params_.turned_box ? last_.tightest : OrientedBox{last_.box, 0}, confidence, present};
  estimate.mask = present ? target_.write_mask() : target_.empty_mask();
  if (present) estimate.extent = last_.extent;
  return estimate;
}

}  // namespace mnemon
