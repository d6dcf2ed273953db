// SPDX-License-Identifier: MIT
#include <mnemon/scene/pose.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace mnemon {
namespace {

double mix(double a, double b, double t) { return a + t * (b - a); }

Affine mix(const Affine& a, const Affine& b, double t) {
  return {mix(a.a, b.a, t), mix(a.b, b.b, t), mix(a.c, b.c, t),
          mix(a.d, b.d, t), mix(a.e, b.e, t), mix(a.f, b.f, t)};
}

Affine own_to_rest(const Pose& pose) {
  const double cosine = std::cos(pose.roll_deg * std::numbers::pi / 180);
  const double sine = std::sin(pose.roll_deg * std::numbers::pi / 180);
  const double across = pose.size_px * pose.yaw;
  const double down = pose.size_px * pose.pitch;
  return {cosine * across, -sine * down, pose.at.x, sine * across, cosine * down, pose.at.y};
}

}  // namespace

Point mapped(const Affine& map, Point p) noexcept {
  return {map.a * p.x + map.b * p.y + map.c, map.d * p.x + map.e * p.y + map.f};
}

Affine after(const Affine& outer, const Affine& inner) noexcept {
  return {outer.a * inner.a + outer.b * inner.d,           outer.a * inner.b + outer.b * inner.e,
          outer.a * inner.c + outer.b * inner.f + outer.c, outer.d * inner.a + outer.e * inner.d,
          outer.d * inner.b + outer.e * inner.e,           outer.d * inner.c + outer.e * inner.f + outer.f};
}

Affine inverse(const Affine& map) noexcept {
  const double area = map.a * map.e - map.b * map.d;
  const Affine turn{map.e / area, -map.b / area, 0, -map.d / area, map.a / area, 0};
  const Point middle = mapped(turn, {map.c, map.f});
  return {turn.a, turn.b, -middle.x, turn.d, turn.e, -middle.y};
}

Pose between(const Pose& a, const Pose& b, double share) {
  if (b.anew) return share < 0.5 ? a : b;
  Pose pose = a;
  pose.at = {mix(a.at.x, b.at.x, share), mix(a.at.y, b.at.y, share)};
  pose.size_px = mix(a.size_px, b.size_px, share);
  pose.roll_deg = mix(a.roll_deg, b.roll_deg, share);
  pose.pitch = mix(a.pitch, b.pitch, share);
  pose.yaw = mix(a.yaw, b.yaw, share);
  pose.flutter = mix(a.flutter, b.flutter, share);
  pose.time_s = mix(a.time_s, b.time_s, share);
  pose.shine = mix(a.shine, b.shine, share);
  pose.view = mix(a.view, b.view, share);
  for (std::size_t i = 0; i < std::min(a.tail.size(), b.tail.size()); ++i)
    pose.tail[i] = {mix(a.tail[i].x, b.tail[i].x, share), mix(a.tail[i].y, b.tail[i].y, share)};
  return pose;
}

Placing::Placing(const Pose& pose)
    : flutter_(pose.flutter),
      time_s_(pose.time_s),
      there_(after(pose.view, own_to_rest(pose))),
      back_(inverse(there_)) {}

// Two waves run through the cloth, one along and one across, so long that it nowhere folds over: up to a flutter of
// a half, the map's determinant stays above 0.
Point Placing::operator()(Point p) const noexcept {
  if (flutter_ > 0) {
    const double along = std::sin(2.6 * p.y + 1.0 * p.x - 9.4 * time_s_);
    const double across = std::sin(1.6 * p.x - 1.0 * p.y + 7.3 * time_s_ + 1);
    p = {p.x + 0.6 * flutter_ * along * (0.4 + std::abs(p.y)),
         p.y + 0.6 * flutter_ * across * (0.4 + std::abs(p.x))};
  }
  return mapped(there_, p);
}

Polygon Placing::operator()(const Polygon& shape) const {
  Polygon placed;
  placed.reserve(shape.size());
  for (const Point& p : shape) placed.push_back((*this)(p));
  return placed;
}

}  // namespace mnemon
