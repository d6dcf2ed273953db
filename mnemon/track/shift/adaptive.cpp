// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/adaptive.hpp>

#include <utility>

#include <mnemon/track/shift/fixed.hpp>

namespace mnemon {

Estimate ShiftAdaptive::do_seed(const Frame& frame, const Region& region, const Box& box) {
  follower_.start(frame, region, box, shift_rules_of(params_),
                  [this](ColourTarget& target, Ellipse& ellipse) { shape_.fit(target, ellipse); });
  shape_ = ShapeFit(follower_.target(), follower_.ellipse(),
                    {params_.most_growth, params_.turn_rate, params_.turns});
  return {box_of(follower_.ellipse()), 1, true};
}

Estimate ShiftAdaptive::do_follow(const Frame& frame) {
  const ShiftFollower::Sighting seen = follower_.follow(frame);
  return {box_of(seen.ellipse), seen.confidence, seen.present};
}

std::vector<Stage> ShiftAdaptive::do_stages() {
  path_picture_ = path_picture(follower_.target());
  return {{"back-projection", follower_.target().back_projection().weights()},
          {"path", std::as_const(path_picture_).view()}};
}

}  // namespace mnemon
