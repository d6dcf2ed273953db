// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>

#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/track/corr/pose_search.hpp>

namespace mnemon {

/// The size that a target was marked with, how small and how large against it the target may become, and the boxes
/// that it has at a pose.
class FollowedSize {
 public:
  FollowedSize() = default;
  /// \param w, h  Sides of the marked box, px.
  /// \param most  The largest scale, at least 1.
  FollowedSize(double w, double h, double most) noexcept
      : w_(w), h_(h), least_(std::min(1.0, kLeastPx / std::min(w, h))), most_(most) {}

  /// At a scale, px.
  [[nodiscard]] double w(double scale) const noexcept { return w_ * scale; }
  /// At a scale, px.
  [[nodiscard]] double h(double scale) const noexcept { return h_ * scale; }

  /// A scale, or the nearest that the target may have.
  [[nodiscard]] double allowed(double scale) const noexcept { return std::clamp(scale, least_, most_); }

  /// The marked box at a pose but for its turn.
  [[nodiscard]] Box upright(const PoseSearch::Pose& pose) const noexcept {
    return box_around(pose.middle, w(pose.scale), h(pose.scale));
  }

  /// The upright box around an ellipse that fills the marked one, turned as the pose is.
  [[nodiscard]] Box around(const PoseSearch::Pose& pose) const noexcept {
    if (pose.turn_deg == 0) return upright(pose);
    return bounds({pose.middle, w(pose.scale) / 2, h(pose.scale) / 2, pose.turn_deg});
  }

 private:
  static constexpr double kLeastPx = 5;  // of the shorter side

  double w_ = 1, h_ = 1;
  double least_ = 1, most_ = 1;
};

}  // namespace mnemon
