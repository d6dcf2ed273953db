// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/fixed.hpp>

#include <utility>

namespace mnemon {

OrientedBox box_of(const Ellipse& ellipse) noexcept {
  return {box_around(ellipse.middle, 2 * ellipse.half_w, 2 * ellipse.half_h),
          folded_angle_deg(ellipse.angle_deg)};
}

Estimate ShiftFixed::do_seed(const Frame& frame, const Region& region, const Box& box) {
  follower_.start(frame, region, box, shift_rules_of(params_));
  return {box_of(follower_.ellipse()), 1, true};
}

Estimate ShiftFixed::do_follow(const Frame& frame) {
  const ShiftFollower::Sighting seen = follower_.follow(frame);
  return {box_of(seen.ellipse), seen.confidence, seen.present};
}

std::vector<Stage> ShiftFixed::do_stages() {
  path_picture_ = path_picture(follower_.target());
  return {{"back-projection", follower_.target().back_projection().weights()},
          {"path", std::as_const(path_picture_).view()}};
}

}  // namespace mnemon
