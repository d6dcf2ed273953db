// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/shift_follower.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <mnemon/track/region_weight.hpp>

namespace mnemon {
namespace {

constexpr double kForecastFrom = 1.0;  // px a frame below which the forecast is not worth a start of its own

}  // namespace

Estimate ShiftFollower::start(const Frame& frame, const Region& region, const Box& box,
                              const ShiftRules& rules, const std::optional<ShapeFit::Limits>& shape) {
  loop_.start(frame.size(), rules);
  target_.start(frame, region, box, rules);
  ellipse_ = ellipse_of(region, box);
  shape_.reset();
  if (shape) shape_.emplace(target_, ellipse_, *shape);
  return estimate({true, 1});
}

void ShiftFollower::retune(const ShiftRules& rules, const std::optional<ShapeFit::Limits>& shape) {
  loop_.retune(rules);
  target_.retune(rules);
  if (shape_ && shape) shape_->retune(*shape);
}

Estimate ShiftFollower::follow(const Frame& frame) { return estimate(loop_.follow(*this, frame)); }

Estimate ShiftFollower::estimate(const Held& held) const noexcept {
  return {box_of(ellipse_), held.confidence, held.present};
}

std::vector<Stage> ShiftFollower::stages() {
  path_picture_ = path_picture(target_);
  const OrientedBox window{target_.back_projection().window(), 0};
  return {{"back-projection", target_.back_projection().weights(), window},
          {"path", std::as_const(path_picture_).view(), window}};
}

// Once the target was not seen it is taken to stand still.
ShiftFollower::Seen ShiftFollower::look(const Frame& frame) {
  if (looks_elsewhere()) return {};
  const bool moves = loop_.forecast().frames_lost() == 0;
  return look_from(frame, ellipse_, moves ? loop_.forecast().velocity() : Point{});
}

ShiftFollower::Seen ShiftFollower::look_from(const Frame& frame, Ellipse from, Point forecast) {
  from.middle = {from.middle.x + 0.5 * forecast.x, from.middle.y + 0.5 * forecast.y};
  target_.look(frame, from);
  Seen best;
  best.confidence = -1;
  const bool moves = std::hypot(forecast.x, forecast.y) >= kForecastFrom;
  for (const double share : {-0.5, 0.5}) {
    if (!moves && share > 0) break;
    Seen seen;
    seen.ellipse = from;
    seen.ellipse.middle = {from.middle.x + share * forecast.x, from.middle.y + share * forecast.y};
    target_.shift(seen.ellipse);
    seen.confidence = target_.confidence(seen.ellipse);
    if (seen.confidence > best.confidence) best = seen;
  }
  if (shape_) {
    shape_->fit(target_, best.ellipse);
    best.confidence = target_.confidence(best.ellipse);
  }
  best.box = upright_around(box_of(best.ellipse));
  return best;
}

// On each third frame it is looked for where it was: both on one frame would take long.
bool ShiftFollower::looks_elsewhere() const noexcept {
  return loop_.is_lost() && loop_.forecast().frames_lost() % 3 != 0;
}

void ShiftFollower::search(const Frame& frame, Seen& seen) {
  if (!looks_elsewhere()) return;
  Ellipse there = ellipse_;
  there.middle = target_.search(frame, ellipse_);
  seen = look_from(frame, there, {});
  if (!loop_.is_sure(seen)) target_.leave_out(there.middle);
}

void ShiftFollower::hold(const Frame& /*frame*/, const Seen& seen, bool learns) {
  loop_.found(ellipse_.middle, seen.ellipse.middle);
  ellipse_ = seen.ellipse;
  if (learns) target_.learn(ellipse_);
}

void ShiftFollower::miss(const Frame& /*frame*/) {
  loop_.missed();
  if (loop_.forecast().is_newly_lost()) target_.start_search();
}

}  // namespace mnemon
