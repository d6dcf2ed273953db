// SPDX-License-Identifier: MIT
#include <mnemon/scene/streamer.hpp>

#include <cmath>
#include <numbers>

namespace mnemon {
namespace {

constexpr int kPieces = 40;
constexpr int kStripes = 10;
constexpr double kLength = 2.2;
constexpr Tint kStreamerLine{60, 62, 66};
constexpr Tint kHoop{66, 60, 56};

// The middle of the cloth `along` it, from 0 at the hoop to 1 at the free end, in own units. The waves grow on their
// way and run faster than the cloth's length in a second.
Point middle(double along, double time_s) {
  const double wave = 2 * std::numbers::pi;
  const double swell = 0.06 + 0.5 * along;
  return {kLength * (along - 0.5) * (1 - 0.06 * std::sin(wave * 0.8 * time_s)),
          swell * (0.55 * std::sin(wave * (1.25 * along - 1.1 * time_s)) +
                   0.25 * std::sin(wave * (2.3 * along - 1.9 * time_s) + 0.7)) +
              0.12 * along};
}

double half_width(double along) { return 0.20 * (1 - 0.55 * along); }

// The two edges of the cloth between two places along it.
Polygon cloth_between(double from, double to, double time_s, int pieces) {
  Polygon upper;
  Polygon lower;
  for (int i = 0; i <= pieces; ++i) {
    const double along = from + (to - from) * i / pieces;
    const Point here = middle(along, time_s);
    const Point next = middle(along + 0.01, time_s);
    const double length = std::hypot(next.x - here.x, next.y - here.y);
    const double reach = half_width(along) / length;
    const Point out{-(next.y - here.y) * reach, (next.x - here.x) * reach};
    upper.push_back({here.x - out.x, here.y - out.y});
    lower.push_back({here.x + out.x, here.y + out.y});
  }
  upper.insert(upper.end(), lower.rbegin(), lower.rend());
  return upper;
}

}  // namespace

Polygon Streamer::outline(const Pose& pose) const {
  return Placing(pose)(cloth_between(0, 1, pose.time_s, kPieces));
}

void Streamer::draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const Placing place(pose);
  const Point hoop = place(middle(0, pose.time_s));
  fill_even(band(hoop, mapped(pose.view, {rgb.cols * 0.72, rgb.rows * 1.05}), 0.9), rgb, tile, 0.35f,
            kStreamerLine);
  // All of it first, so that nothing shines through where two stripes meet.
  fill_even(outline(pose), rgb, tile, 1, cloth_[0]);
  for (int i = 0; i < kStripes; ++i) {
    const double from = static_cast<double>(i) / kStripes;
    const double to = static_cast<double>(i + 1) / kStripes;
    const Point a = middle(from, pose.time_s);
    const Point b = middle(to, pose.time_s);
    // Cloth that leans back is darker.
    const double light = 0.96 - 0.22 * (b.y - a.y) / std::hypot(b.x - a.x, b.y - a.y);
    fill_even(place(cloth_between(from, to, pose.time_s, kPieces / kStripes)), rgb, tile, 1,
              shaded(cloth_[i % 3], light));
  }
  const Polygon rim = cloth_between(0, 0.015, pose.time_s, 1);
  fill_even(place(rim), rgb, tile, 0.9f, kHoop);
}

}  // namespace mnemon
