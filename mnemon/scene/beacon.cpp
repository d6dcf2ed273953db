// SPDX-License-Identifier: MIT
#include <mnemon/scene/beacon.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/scene/balloon.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

constexpr double kPeriodS = 1.5;
constexpr double kLitS = 1.0;
constexpr double kFadeS = 0.05;
constexpr double kGlow = 2.6;  // how far the glow reaches, in sizes
constexpr Tint kLamp{2500, 1650, 650};
constexpr Tint kHousing{70, 74, 84};
constexpr float kHousingOpacity = 0.12f;  // a frame of thin rods

}  // namespace

double blinking(double time_s) noexcept {
  const double at = time_s - kPeriodS * std::floor(time_s / kPeriodS);
  return smooth_step((kLitS - at) / kFadeS) * smooth_step((at + kFadeS) / kFadeS);
}

Polygon Beacon::outline(const Pose& pose) const { return Placing(pose)(disc()); }

void Beacon::draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const Placing place(pose);
  fill_even(outline(pose), rgb, tile, kHousingOpacity, kHousing);
  if (pose.shine <= 0) return;
  const auto shine = static_cast<float>(pose.shine);
  Polygon glow = disc();
  for (Point& p : glow) p = {2 * kGlow * p.x, 2 * kGlow * p.y};
  const Reach reach = reach_of(place(glow), rgb.rows, rgb.cols);
  for (int r = reach.top; r < reach.top + reach.rows; ++r)
    for (int c = reach.left; c < reach.left + reach.cols; ++c) {
      const Point own = place.own({c + 0.5, r + 0.5});
      const double away = std::hypot(own.x, own.y) / kGlow;
      if (away >= 1) continue;
      const float light = shine * static_cast<float>(0.30 * std::pow(1 - away, 3));
      float* pixel = rgb.row(r) + 3 * c;
      pixel[0] += light * kLamp.red;
      pixel[1] += light * kLamp.green;
      pixel[2] += light * kLamp.blue;
    }
  const auto lamp = [&](double x, double y) {
    const Point own = place.own({x, y});
    return shaded(kLamp, 1 - 1.2 * std::min(0.25, own.x * own.x + own.y * own.y));
  };
  fill(outline(pose), rgb, tile, shine, lamp);
}

}  // namespace mnemon
