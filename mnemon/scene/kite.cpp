// SPDX-License-Identifier: MIT
#include <mnemon/scene/kite.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <utility>

#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

// The sail in its own units: the spine is 1 long, the spars cross at the origin, y goes down the spine.
constexpr Point kTop{0, -0.36};
constexpr Point kRight{0.40, 0};
constexpr Point kLeft{-0.40, 0};
constexpr std::array<Point, 4> kTips{kTop, kRight, kKiteLowerTip, kLeft};
constexpr int kEdgePieces = 6;
constexpr double kEdgeSag = 0.035;  // how far the cloth between two tips is drawn in
constexpr Tint kWood{74, 52, 34};
constexpr Tint kThread{235, 235, 228};
constexpr Tint kLine{60, 62, 66};

// The edge of the sail from one tip towards the next, without the next.
void add_edge(Polygon& outline, int tip) {
  const Point a = kTips[tip];
  const Point b = kTips[(tip + 1) % 4];
  for (int i = 0; i < kEdgePieces; ++i) {
    const double t = static_cast<double>(i) / kEdgePieces;
    const Point straight = between(a, b, t);
    const double sag = 1 - kEdgeSag * 4 * t * (1 - t) / std::max(0.2, std::hypot(straight.x, straight.y));
    outline.push_back({sag * straight.x, sag * straight.y});
  }
}

}  // namespace

Kite::Kite(std::vector<Tint> cloth, std::uint64_t key) : cloth_(std::move(cloth)), key_(key) {}

Polygon Kite::outline(const Pose& pose) const {
  Polygon outline;
  for (int tip = 0; tip < 4; ++tip) add_edge(outline, tip);
  return Placing(pose)(outline);
}

void Kite::draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const Placing place(pose);
  const Point held = mapped(pose.view, {rgb.cols * 0.72, rgb.rows * 1.05});  // below the picture
  fill_even(band(place({0, 0}), held, 0.9), rgb, tile, 0.35f, kLine);
  draw_tail(pose, rgb, tile);
  for (int panel = 0; panel < 4; ++panel) draw_panel(panel, pose, place, rgb, tile);
  draw_spars(pose, place, rgb, tile);
}

void Kite::draw_tail(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const double width = std::max(0.8, 0.022 * pose.size_px);
  Polygon tail;
  for (const Point& p : pose.tail) tail.push_back(mapped(pose.view, p));
  for (std::size_t i = 1; i < tail.size(); ++i)
    fill_even(band(tail[i - 1], tail[i], width), rgb, tile, 1, cloth_[1]);
  for (std::size_t i = 3; i < tail.size(); i += 3) {
    const Point at = tail[i];
    const Point along = between(tail[i - 1], at, 1.9);
    const double reach = 0.075 * pose.size_px;
    const double length = std::max(1e-6, std::hypot(along.x - at.x, along.y - at.y));
    const Point u{(along.x - at.x) / length * reach, (along.y - at.y) / length * reach};
    for (const double side : {-1.0, 1.0}) {
      const Point out{at.x - side * u.y, at.y + side * u.x};
      fill_even({at, {out.x + 0.5 * u.x, out.y + 0.5 * u.y}, {out.x - 0.5 * u.x, out.y - 0.5 * u.y}}, rgb,
                tile, 1, cloth_[0]);
    }
  }
}

void Kite::draw_panel(int panel, const Pose& pose, const Placing& place, ImageView<float> rgb,
                      CoverageTile& tile) const {
  Polygon cloth;
  add_edge(cloth, panel);
  cloth.push_back(kTips[(panel + 1) % 4]);
  cloth.push_back({0, 0});
  // Each panel faces the sun a little differently, and the billow darkens it towards the spine.
  const double roll = pose.roll_deg * std::numbers::pi / 180;
  const double facing =
      0.93 + 0.09 * std::sin(roll + panel * std::numbers::pi / 2 + 0.6) - 0.1 * (1 - pose.pitch * pose.yaw);
  const auto weave = [&](double x, double y) {
    const Point own = place.own({x, y});
    const double away = std::hypot(own.x, own.y);
    const double thread = 0.015 * smooth_noise(37 * away + panel, key_);
    return shaded(cloth_[panel], facing * (0.88 + 0.28 * std::min(away, 0.5)) + thread);
  };
  fill(place(cloth), rgb, tile, 1, weave);
  if (panel % 2 != 0) return;
  const Point from = kTips[panel];
  const Point to = kTips[(panel + 1) % 4];
  const Polygon stripe{between({0, 0}, from, 0.42), between({0, 0}, from, 0.62), between({0, 0}, to, 0.62),
                       between({0, 0}, to, 0.42)};
  fill_even(place(stripe), rgb, tile, 0.9f, shaded(cloth_[2], facing));
}

void Kite::draw_spars(const Pose& pose, const Placing& place, ImageView<float> rgb,
                      CoverageTile& tile) const {
  const double spar = std::max(0.7, 0.024 * pose.size_px);
  for (int tip = 0; tip < 4; ++tip) {
    fill_even(band(place({0, 0}), place(between({0, 0}, kTips[tip], 0.97)), spar), rgb, tile, 0.85f, kWood);
    const Point a = place(between({0, 0}, kTips[tip], 0.80));
    const Point b = place(between({0, 0}, kTips[(tip + 1) % 4], 0.80));
    fill_even(band(a, b, 0.35 * spar), rgb, tile, 0.7f, kThread);
  }
}

}  // namespace mnemon
