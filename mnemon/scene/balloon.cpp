// SPDX-License-Identifier: MIT
#include <mnemon/scene/balloon.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace mnemon {
namespace {

constexpr int kCorners = 64;
constexpr Tint kSkin{236, 228, 214};
constexpr Tint kLine{70, 70, 74};
constexpr Tint kBox{240, 240, 236};

}  // namespace

Polygon disc() {
  constexpr double kStep = 2 * std::numbers::pi / kCorners;
  const double radius = 0.5 * std::sqrt(kStep / std::sin(kStep));  // so that the area is that of the circle
  Polygon corners;
  for (int i = 0; i < kCorners; ++i)
    corners.push_back({radius * std::cos(i * kStep), radius * std::sin(i * kStep)});
  return corners;
}

Polygon Balloon::outline(const Pose& pose) const { return Placing(pose)(disc()); }

void Balloon::draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const Placing place(pose);
  const Point neck = place({0, 0.5});
  const Point load = place({0, 1.1});
  const Point held = mapped(pose.view, {rgb.cols * 0.60, rgb.rows * 1.05});
  fill_even(band(neck, load, std::max(0.6, 0.012 * pose.size_px)), rgb, tile, 0.7f, kLine);
  fill_even(band(load, held, 0.8), rgb, tile, 0.35f, kLine);
  fill_even(place(Polygon{{-0.06, 1.06}, {0.06, 1.06}, {0.06, 1.18}, {-0.06, 1.18}}), rgb, tile, 1, kBox);
  fill_even(place(Polygon{{-0.05, 0.56}, {0, 0.46}, {0.05, 0.56}}), rgb, tile, 1, shaded(kSkin, 0.6));
  // A ball, lit from the upper left, with two bands of latitude that lean with it.
  const auto skin = [&](double x, double y) {
    const Point own = place.own({x, y});
    const Point on{2 * own.x, 2 * own.y};
    const double out = std::sqrt(std::max(0.0, 1 - on.x * on.x - on.y * on.y));
    const double facing = std::max(0.0, -0.45 * on.x - 0.62 * on.y + 0.64 * out);
    const double latitude = on.y * 0.93 + out * 0.37;  // seen from below
    const bool banded = std::abs(latitude - 0.12) < 0.13 || std::abs(latitude + 0.42) < 0.07;
    const double rim = 0.16 * (1 - out);
    return shaded(banded ? cloth_[0] : kSkin, 0.50 + 0.52 * facing - rim);
  };
  fill(outline(pose), rgb, tile, 1, skin);
}

}  // namespace mnemon
