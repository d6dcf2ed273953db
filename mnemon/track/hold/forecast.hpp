// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon {

/// The middle of a target of that size kept where at least a quarter of each of its sides can be in the picture:
/// further out there is nothing to see that could bring a window back.
[[nodiscard]] inline Point kept_in_view(Point middle, double w, double h, FrameSize size) noexcept {
  constexpr double kBeyond = 0.25;  // of the target's sides, that its middle may lie out of the picture
  return {std::clamp(middle.x, -kBeyond * w, size.width + kBeyond * w),
          std::clamp(middle.y, -kBeyond * h, size.height + kBeyond * h)};
}

/// Where a target goes by its smoothed motion, and for how many frames it has not been found. After a loss it is taken
/// to stand still at first; while it is lost its motion dies down.
class Forecast {
 public:
  static constexpr int kFramesUntilSearch = 2;  ///< Frames without the target before it counts as lost.

  Forecast() = default;
  /// For pictures of that size; the target stands still as yet.
  explicit Forecast(FrameSize size) : size_(size) {}

  /// Since it was seen last.
  [[nodiscard]] int frames_lost() const noexcept { return frames_lost_; }
  /// Whether it has not been seen for long enough to be looked for elsewhere.
  [[nodiscard]] bool is_lost() const noexcept { return frames_lost_ >= kFramesUntilSearch; }
  /// True on the frame from which it is lost.
  [[nodiscard]] bool is_newly_lost() const noexcept { return frames_lost_ == kFramesUntilSearch; }

  /// Where the middle of a target of that size that was there should be now, kept in view.
  [[nodiscard]] Point of(Point was, double w, double h) const noexcept {
    return kept_in_view({was.x + velocity_.x, was.y + velocity_.y}, w, h, size_);
  }

  /// How far the target goes in a frame, px.
  [[nodiscard]] Point velocity() const noexcept { return velocity_; }

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
  static constexpr double kRate = 0.3;  // of the newest motion
  static constexpr double kKept = 0.9;  // of the speed, a frame without the target

  FrameSize size_;
  Point velocity_;  // px a frame
  int frames_lost_ = 0;
};

}  // namespace mnemon
