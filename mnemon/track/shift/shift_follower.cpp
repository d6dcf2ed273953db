// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/shift_follower.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr double kVelocityRate = 0.3;
constexpr int kFramesUntilSearch = 2;
constexpr double kForecastFrom = 1.0;  // px a frame below which the forecast is not worth a start of its own

}  // namespace

Estimate ShiftFollower::start(const Frame& frame, const Region& region, const Box& box,
                              const ShiftRules& rules, Fit fit) {
  fit_ = std::move(fit);
  target_.start(frame, region, box, rules);
  ellipse_ = ellipse_of(region, box);
  velocity_ = {};
  frames_lost_ = 0;
  return estimate(1, true);
}

Estimate ShiftFollower::follow(const Frame& frame) {
  const bool lost = frames_lost_ >= kFramesUntilSearch;
  const double needed = lost ? target_.rules().refind_from : target_.rules().present_from;
  Sighting seen = look(frame, ellipse_, velocity_);
  if (lost && seen.confidence < needed) seen = search(frame);
  if (seen.confidence >= needed) {
    hold(seen);
    return estimate(seen.confidence, true);
  }
  if (++frames_lost_ == kFramesUntilSearch) target_.start_search();
  velocity_ = {};
  return estimate(std::min(seen.confidence, target_.rules().present_from), false);
}

Estimate ShiftFollower::estimate(double confidence, bool present) const noexcept {
  return {box_of(ellipse_), confidence, present};
}

std::vector<Stage> ShiftFollower::stages() {
  path_picture_ = path_picture(target_);
  return {{"back-projection", target_.back_projection().weights()},
          {"path", std::as_const(path_picture_).view()}};
}

ShiftFollower::Sighting ShiftFollower::look(const Frame& frame, Ellipse from, Point forecast) {
  from.middle = {from.middle.x + 0.5 * forecast.x, from.middle.y + 0.5 * forecast.y};
  target_.look(frame, from);
  Sighting best;
  const bool moves = std::hypot(forecast.x, forecast.y) >= kForecastFrom;
  for (const double share : {-0.5, 0.5}) {
    if (!moves && share > 0) break;
    Sighting seen{from};
    seen.ellipse.middle = {from.middle.x + share * forecast.x, from.middle.y + share * forecast.y};
    target_.shift(seen.ellipse);
    seen.confidence = target_.confidence(seen.ellipse);
    if (seen.confidence > best.confidence) best = seen;
  }
  if (fit_) {
    fit_(target_, best.ellipse);
    best.confidence = target_.confidence(best.ellipse);
  }
  return best;
}

ShiftFollower::Sighting ShiftFollower::search(const Frame& frame) {
  Ellipse there = ellipse_;
  there.middle = target_.search(frame, ellipse_);
  const Sighting seen = look(frame, there, {});
  if (seen.confidence < target_.rules().refind_from) target_.leave_out(there.middle);
  return seen;
}

void ShiftFollower::hold(const Sighting& seen) {
  if (frames_lost_ == 0) {
    velocity_.x += kVelocityRate * (seen.ellipse.middle.x - ellipse_.middle.x - velocity_.x);
    velocity_.y += kVelocityRate * (seen.ellipse.middle.y - ellipse_.middle.y - velocity_.y);
  }
  frames_lost_ = 0;
  ellipse_ = seen.ellipse;
  if (seen.confidence >= target_.rules().learn_from) target_.learn(ellipse_);
}

}  // namespace mnemon
