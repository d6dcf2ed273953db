// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

#include <mnemon/base/random.hpp>
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon::test {

/// A patterned ellipse on patterned ground, with noise.
struct DrawnTarget {
  Ellipse ellipse;
  double hue = 0;  ///< What the target's colours are turned by, radians: one unlike it has another.
};

/// A picture as a frame of a sequence of 30 frames a second.
inline Frame frame_of(const Image<Byte>& picture, int index) { return {picture.view(), index, index / 30.0}; }

inline bool is_inside(const Ellipse& ellipse, double x, double y, double& u, double& v) {
  const double turn = ellipse.angle_deg * std::numbers::pi / 180;
  const double dx = x - ellipse.middle.x;
  const double dy = y - ellipse.middle.y;
  u = (std::cos(turn) * dx + std::sin(turn) * dy) / ellipse.half_w;
  v = (std::cos(turn) * dy - std::sin(turn) * dx) / ellipse.half_h;
  return u * u + v * v < 1;
}

/// Of the pictures of most tests.
inline constexpr int kRows = 160;
inline constexpr int kCols = 220;

/// Draws targets in their order, later ones over earlier ones.
template <class Targets>
Image<Byte> drawn_picture(const Targets& targets, int rows, int cols, std::uint64_t key = 5) {
  Image<Byte> picture(rows, cols, 3);
  Random random(key);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      double rgb[3] = {100 + 25 * std::sin(0.21 * c + 0.1 * r), 115 + 20 * std::sin(0.17 * r),
                       105 + 20 * std::cos(0.13 * (r + c))};
      for (const DrawnTarget& target : targets) {
        double u = 0;
        double v = 0;
        if (!is_inside(target.ellipse, c + 0.5, r + 0.5, u, v)) continue;
        for (int k = 0; k < 3; ++k)
          rgb[k] = 130 + 90 * std::cos(target.hue - 2.1 * k) + 30 * std::sin(5 * u + k) * std::cos(4 * v);
      }
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) = static_cast<Byte>(std::clamp(rgb[k] + random.uniform(-7, 7), 0.0, 255.0));
    }
  return picture;
}

/// A picture of that size with several targets, or none.
inline Image<Byte> picture_of(const std::vector<DrawnTarget>& targets, std::uint64_t key) {
  return drawn_picture(targets, kRows, kCols, key);
}

/// Follows a target, which a box marks on the first frame.
template <class T, class Seed>
auto seed_or_follow(T& tracker, const Frame& frame, const Seed& on_first) {
  return frame.index == 0 ? tracker.seed(frame, on_first) : tracker.follow(frame);
}

inline Box box_around_drawn(const Ellipse& ellipse) {
  const OrientedBox turned = box_of(ellipse);
  const double turn = ellipse.angle_deg * std::numbers::pi / 180;
  const double w = 2 * std::hypot(ellipse.half_w * std::cos(turn), ellipse.half_h * std::sin(turn));
  const double h = 2 * std::hypot(ellipse.half_w * std::sin(turn), ellipse.half_h * std::cos(turn));
  return box_around(centre(turned.box), w, h);
}

}  // namespace mnemon::test
