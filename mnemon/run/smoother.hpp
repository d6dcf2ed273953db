// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>
#include <optional>

#include <mnemon/geometry/oriented_box.hpp>

namespace mnemon {

/// Smooths boxes over time by what came before alone: a running mean of centre, size and turn, each earlier box counting
/// less by the factor e every `time_s`. What moves at a constant rate lags by that time.
class Smoother {
 public:
  /// \param time_s  At 0 boxes stay as they are.
  explicit Smoother(double time_s = 0) : time_s_(time_s) {}

  /// Starts afresh from a box.
  void start(const OrientedBox& box, double at_s) noexcept {
    smooth_ = box;
    at_s_ = at_s;
  }

  /// The smoothed box of that moment, s, which is later than the one before.
  OrientedBox take(const OrientedBox& box, double at_s) noexcept {
    if (time_s_ <= 0 || !smooth_) {
      start(box, at_s);
      return box;
    }
    const double share = 1 - std::exp(-std::max(0.0, at_s - at_s_) / time_s_);
    const Point was = centre(smooth_->box);
    const Point now = centre(box.box);
    const auto size = [share](double from, double to) {
      return from > 0 && to > 0 ? from * std::pow(to / from, share) : to;
    };
    const Box next = box_around({std::lerp(was.x, now.x, share), std::lerp(was.y, now.y, share)},
                                size(smooth_->box.w, box.box.w), size(smooth_->box.h, box.box.h));
    const double turned = std::remainder(box.angle_deg - smooth_->angle_deg, 180.0);
    start({next, turned == 0 ? box.angle_deg : smooth_->angle_deg + share * turned}, at_s);
    return *smooth_;
  }

  /// Forgets what came before.
  void reset() noexcept { smooth_.reset(); }

 private:
  double time_s_ = 0;
  std::optional<OrientedBox> smooth_;
  double at_s_ = 0;
};

}  // namespace mnemon
