// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

#include <mnemon/base/random.hpp>
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/track/tracker.hpp>

#include "support/drawn_target.hpp"

namespace mnemon::test {

using Colour = std::array<double, 3>;

// An ellipse of two colours, halves along its length, on noisy ground.
struct Drawing {
  Ellipse ellipse;
  Colour left{210, 40, 40};
  Colour right{200, 170, 30};
  Colour ground{90, 110, 100};
  double gain = 1;
  Colour tint{1, 1, 1};  // what a camera's white balance makes of each channel
};

inline Image<Byte> drawn(const Drawing& stage, int rows, int cols, std::uint64_t key = 5) {
  Image<Byte> picture(rows, cols, 3);
  Random random(key);
  const double radians = stage.ellipse.angle_deg * std::numbers::pi / 180;
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const double x = c + 0.5 - stage.ellipse.middle.x;
      const double y = r + 0.5 - stage.ellipse.middle.y;
      const double u = (std::cos(radians) * x + std::sin(radians) * y) / stage.ellipse.half_w;
      const double v = (std::cos(radians) * y - std::sin(radians) * x) / stage.ellipse.half_h;
      const Colour& colour = u * u + v * v >= 1 ? stage.ground : u < 0 ? stage.left : stage.right;
      const double noise = random.uniform(-8, 8);
      for (int k = 0; k < 3; ++k)
        picture(r, c, k) =
            static_cast<Byte>(std::clamp(stage.gain * stage.tint[k] * colour[k] + noise, 0.0, 255.0));
    }
  return picture;
}

// The turned boxes of a tracker seeded on the first of these stages.
template <class T, class P>
std::vector<Estimate> follow_stages(const P& params, const std::vector<Drawing>& stages) {
  T tracker(params);
  std::vector<Estimate> estimates;
  for (std::size_t i = 0; i < stages.size(); ++i) {
    const Image<Byte> picture = drawn(stages[i], 180, 240, 100 + i);
    const Frame frame = frame_of(picture, static_cast<int>(i));
    estimates.push_back(i == 0 ? tracker.seed(frame, box_of(stages[0].ellipse)) : tracker.follow(frame));
  }
  return estimates;
}

}  // namespace mnemon::test
