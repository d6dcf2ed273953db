// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Where a target goes by its smoothed motion, and for how many frames it has not been found. After a loss it is taken
/// to stand still at first; while it is lost its motion dies down.
class MotionForecast {
 public:
  static constexpr int kFramesUntilSearch = 2;  ///< Frames without the target before it counts as lost.

  MotionForecast() = default;
  explicit MotionForecast(FrameSize size) : size_(size) {}

  [[nodiscard]] int frames_lost() const noexcept { return frames_lost_; }
  [[nodiscard]] bool is_lost() const noexcept { return frames_lost_ >= kFramesUntilSearch; }
  /// True on the frame from which it is lost.
  [[nodiscard]] bool is_newly_lost() const noexcept { return frames_lost_ == kFramesUntilSearch; }

  /// Where a target that was there should be now. Its middle stays in the picture: beyond the edge there is nothing to
  /// see that could bring a window back.
  [[nodiscard]] Point of(Point was) const noexcept {
    return kept_inside({was.x + velocity_.x, was.y + velocity_.y});
  }
  [[nodiscard]] Point kept_inside(Point place) const noexcept {
    return {std::clamp(place.x, 0.0, 1.0 * size_.width), std::clamp(place.y, 0.0, 1.0 * size_.height)};
  }

  /// It was found, having moved.
  void found(Point was, Point now) noexcept {
    if (frames_lost_ == 0)
      velocity_ = {velocity_.x + kRate * (now.x - was.x - velocity_.x),
                   velocity_.y + kRate * (now.y - was.y - velocity_.y)};
    else
      velocity_ = {};
    frames_lost_ = 0;
  }

  /// It was not found.
  void missed() noexcept {
    ++frames_lost_;
    velocity_ = {kKept * velocity_.x, kKept * velocity_.y};
  }

 private:
  static constexpr double kRate = 0.3;
  static constexpr double kKept = 0.9;  // of the speed, a frame without the target

  FrameSize size_;
  Point velocity_;  // px a frame
  int frames_lost_ = 0;
};

}  // namespace mnemon
