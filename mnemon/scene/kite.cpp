// SPDX-License-Identifier: MIT
#include <mnemon/scene/kite.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>
#include <span>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

// The sail in its own units: the spine is 1 long, the spars cross at the origin, y goes down the spine.
constexpr Point kTop{0, -0.36};
constexpr Point kRight{0.40, 0};
constexpr Point kBottom{0, 0.64};
constexpr Point kLeft{-0.40, 0};
constexpr std::array<Point, 4> kTips{kTop, kRight, kBottom, kLeft};
constexpr int kEdgePieces = 6;
constexpr double kEdgeSag = 0.035;  // how far the cloth between two tips is drawn in
constexpr Tint kWood{74, 52, 34};
constexpr Tint kThread{235, 235, 228};

constexpr std::array<std::array<Tint, 4>, 4> kColours{{
    {{{206, 44, 40}, {244, 196, 48}, {30, 74, 150}, {240, 236, 224}}},
    {{{236, 120, 28}, {46, 60, 130}, {250, 226, 120}, {190, 36, 60}}},
    {{{150, 32, 98}, {248, 210, 70}, {20, 120, 110}, {244, 240, 232}}},
    {{{24, 96, 66}, {238, 88, 44}, {246, 222, 150}, {70, 40, 110}}},
}};

// From the sail's units to the picture.
class Placing {
 public:
  explicit Placing(const KitePose& pose)
      : at_(pose.at),
        size_(pose.size_px),
        pitch_(pose.pitch),
        cosine_(std::cos(pose.roll_deg * std::numbers::pi / 180)),
        sine_(std::sin(pose.roll_deg * std::numbers::pi / 180)) {}

  [[nodiscard]] Point operator()(Point p) const {
    const double x = size_ * p.x;
    const double y = size_ * pitch_ * p.y;
    return {at_.x + cosine_ * x - sine_ * y, at_.y + sine_ * x + cosine_ * y};
  }

 private:
  Point at_;
  double size_;
  double pitch_;
  double cosine_;
  double sine_;
};

Point between(Point a, Point b, double t) { return {a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)}; }

// The edge of the sail from one tip towards the next, without the next; share [from, to] of it.
void add_edge(Polygon& outline, int tip, double from, double to) {
  const Point a = kTips[tip];
  const Point b = kTips[(tip + 1) % 4];
  for (int i = 0; i < kEdgePieces; ++i) {
    const double t = from + (to - from) * i / kEdgePieces;
    const Point straight = between(a, b, t);
    const double sag = 1 - kEdgeSag * 4 * t * (1 - t) / std::max(0.2, std::hypot(straight.x, straight.y));
    outline.push_back({sag * straight.x, sag * straight.y});
  }
}

Polygon placed(const Polygon& shape, const Placing& place) {
  Polygon out;
  for (const Point& p : shape) out.push_back(place(p));
  return out;
}

// A thin band along the straight way from a to b.
Polygon band(Point a, Point b, double width) {
  const double length = std::max(1e-9, std::hypot(b.x - a.x, b.y - a.y));
  const Point side{-(b.y - a.y) / length * width / 2, (b.x - a.x) / length * width / 2};
  return {{a.x + side.x, a.y + side.y},
          {b.x + side.x, b.y + side.y},
          {b.x - side.x, b.y - side.y},
          {a.x - side.x, a.y - side.y}};
}

// Covers what `outline` covers with a colour that may differ from pixel to pixel.
void fill(const Polygon& outline, ImageView<float> rgb, CoverageTile& tile, float opacity,
          const std::function<Tint(double, double)>& colour_at) {
  const Box around = bounds(outline);
  const int top = std::max(0, static_cast<int>(std::floor(around.y)));
  const int left = std::max(0, static_cast<int>(std::floor(around.x)));
  const int bottom = std::min(rgb.rows, static_cast<int>(std::ceil(around.y + around.h)));
  const int right = std::min(rgb.cols, static_cast<int>(std::ceil(around.x + around.w)));
  if (bottom <= top || right <= left) return;
  tile.place(top, left, bottom - top, right - left);
  tile.add(outline);
  const ImageView<const float> cover = tile.finish();
  for (int r = 0; r < cover.rows; ++r)
    for (int c = 0; c < cover.cols; ++c) {
      const float share = opacity * cover(r, c);
      if (share <= 0) continue;
      const Tint tint = colour_at(left + c + 0.5, top + r + 0.5);
      float* pixel = rgb.row(top + r) + 3 * (left + c);
      pixel[0] += share * (tint.red - pixel[0]);
      pixel[1] += share * (tint.green - pixel[1]);
      pixel[2] += share * (tint.blue - pixel[2]);
    }
}

void fill_even(const Polygon& outline, ImageView<float> rgb, CoverageTile& tile, float opacity, Tint tint) {
  fill(outline, rgb, tile, opacity, [tint](double, double) { return tint; });
}

Tint shaded(Tint tint, double light) {
  const float f = static_cast<float>(light);
  return {f * tint.red, f * tint.green, f * tint.blue};
}

}  // namespace

Point lower_tip(const KitePose& pose) { return Placing(pose)(kBottom); }

Polygon sail_outline(const KitePose& pose) {
  Polygon outline;
  for (int tip = 0; tip < 4; ++tip) add_edge(outline, tip, 0, 1);
  return placed(outline, Placing(pose));
}

Kite::Kite(std::uint64_t key) : key_(key) {
  Random random(key);
  const auto& colours = kColours[random.bits() % kColours.size()];
  const std::size_t turn = random.bits() % 4;
  for (std::size_t i = 0; i < 4; ++i) cloth_.push_back(colours[(i + turn) % 4]);
  cloth_.push_back(colours[(turn + 2) % 4]);
  cloth_.push_back(colours[(turn + 1) % 4]);
  cloth_.push_back(colours[turn]);
}

void Kite::draw(const KitePose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const Point held{rgb.cols * 0.72, rgb.rows * 1.05};  // where the line is held, below the picture
  fill_even(band(pose.at, held, 0.9), rgb, tile, 0.35f, {60, 62, 66});
  draw_tail(pose, rgb, tile);
  draw_sail(pose, rgb, tile);
}

void Kite::draw_tail(const KitePose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const double width = std::max(0.8, 0.022 * pose.size_px);
  for (std::size_t i = 1; i < pose.tail.size(); ++i)
    fill_even(band(pose.tail[i - 1], pose.tail[i], width), rgb, tile, 1, cloth_[5]);
  for (std::size_t i = 3; i < pose.tail.size(); i += 3) {
    const Point at = pose.tail[i];
    const Point along = between(pose.tail[i - 1], at, 1.9);
    const double reach = 0.075 * pose.size_px;
    const double length = std::max(1e-6, std::hypot(along.x - at.x, along.y - at.y));
    const Point u{(along.x - at.x) / length * reach, (along.y - at.y) / length * reach};
    for (const double side : {-1.0, 1.0}) {
      const Point out{at.x - side * u.y, at.y + side * u.x};
      fill_even({at, {out.x + 0.5 * u.x, out.y + 0.5 * u.y}, {out.x - 0.5 * u.x, out.y - 0.5 * u.y}}, rgb,
                tile, 1, cloth_[6]);
    }
  }
}

void Kite::draw_sail(const KitePose& pose, ImageView<float> rgb, CoverageTile& tile) const {
  const Placing place(pose);
  const double roll = pose.roll_deg * std::numbers::pi / 180;
  for (int panel = 0; panel < 4; ++panel) {
    Polygon cloth;
    add_edge(cloth, panel, 0, 1);
    cloth.push_back(kTips[(panel + 1) % 4]);
    cloth.push_back({0, 0});
    // Each panel faces the sun a little differently, and the billow darkens it towards the spine.
    const double facing =
        0.93 + 0.09 * std::sin(roll + panel * std::numbers::pi / 2 + 0.6) - 0.1 * (1 - pose.pitch);
    const auto weave = [&, panel](double x, double y) {
      const double away = std::hypot(x - pose.at.x, y - pose.at.y) / pose.size_px;
      const double thread = 0.015 * smooth_noise(37 * away + panel, key_);
      return shaded(cloth_[panel], facing * (0.88 + 0.28 * std::min(away, 0.5)) + thread);
    };
    fill(placed(cloth, place), rgb, tile, 1, weave);
    const Polygon stripe{between({0, 0}, kTips[panel], 0.42), between({0, 0}, kTips[panel], 0.62),
                         between({0, 0}, kTips[(panel + 1) % 4], 0.62),
                         between({0, 0}, kTips[(panel + 1) % 4], 0.42)};
    if (panel % 2 == 0) fill_even(placed(stripe, place), rgb, tile, 0.9f, shaded(cloth_[4], facing));
  }
  const double spar = std::max(0.7, 0.024 * pose.size_px);
  for (int tip = 0; tip < 4; ++tip) {
    fill_even(band(place({0, 0}), place(between({0, 0}, kTips[tip], 0.97)), spar), rgb, tile, 0.85f, kWood);
    const Point a = place(between({0, 0}, kTips[tip], 0.80));
    const Point b = place(between({0, 0}, kTips[(tip + 1) % 4], 0.80));
    fill_even(band(a, b, 0.35 * spar), rgb, tile, 0.7f, kThread);
  }
}

}  // namespace mnemon
