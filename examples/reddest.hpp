// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/track/tracker.hpp>

namespace example {

using mnemon::Box;
using mnemon::Estimate;
using mnemon::Frame;
using mnemon::Region;
using mnemon::Tracker;

struct ReddestParams {
  int reach_px = 8;

  static void describe(auto& schema) {
    using P = ReddestParams;
    schema.field("reach_px", &P::reach_px, {1, 64}, "px", "How far the box may go in one frame, each way.");
  }
};

/// Moves the box to where its red is strongest: enough for a red kite on a blue sky.
class Reddest final : public Tracker {
 public:
  explicit Reddest(const ReddestParams& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    box_ = box;
    return {{box_, 0}, 1, true};
  }

  Estimate do_follow(const Frame& frame) override {
    Box best = box_;
    long most = red_inside(frame, box_);
    for (int dy = -params_.reach_px; dy <= params_.reach_px; ++dy)
      for (int dx = -params_.reach_px; dx <= params_.reach_px; ++dx) {
        const Box moved{box_.x + dx, box_.y + dy, box_.w, box_.h};
        const long red = red_inside(frame, moved);
        if (red <= most) continue;
        most = red;
        best = moved;
      }
    box_ = best;
    return {{box_, 0}, 0.5, true};
  }

  static long red_inside(const Frame& frame, const Box& box) {
    const int left = std::clamp(static_cast<int>(box.x), 0, frame.rgb.cols);
    const int right = std::clamp(static_cast<int>(box.x + box.w), left, frame.rgb.cols);
    const int top = std::clamp(static_cast<int>(box.y), 0, frame.rgb.rows);
    const int bottom = std::clamp(static_cast<int>(box.y + box.h), top, frame.rgb.rows);
    long sum = 0;
    for (int r = top; r < bottom; ++r)
      for (int c = left; c < right; ++c) sum += frame.rgb(r, c, 0) - frame.rgb(r, c, 2);
    return sum;
  }

  ReddestParams params_;
  Box box_;
};

}  // namespace example
