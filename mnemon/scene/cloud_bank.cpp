// SPDX-License-Identifier: MIT
#include <mnemon/scene/cloud_bank.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/geometry/box.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

constexpr double kSoft = 16;    // width of the edge, in units
constexpr double kRagged = 84;  // how far the top and bottom billow out, in units
constexpr double kLobes = 64;   // how far the sides do, in units
constexpr double kTipBand = 9;  // half the height of the rows where they do not, in units
constexpr int kTextureSide = 512;

}  // namespace

CloudBank::CloudBank(const std::vector<Polygon>& outlines, int from, int to, double unit_px,
                     std::uint64_t key)
    : unit_px_(unit_px),
      from_(from),
      texture_(fractal_texture(kTextureSide, kTextureSide, {90, 60, 5}, key)) {
  std::vector<Box> sail;
  for (const Polygon& outline : outlines) sail.push_back(bounds(outline));
  entry_row_ = std::ranges::min_element(outlines[from], {}, &Point::x)->y;
  exit_row_ = std::ranges::max_element(outlines[to], {}, &Point::x)->y;
  const Box& first = sail[from];
  const Box& last = sail[to];
  // Fast enough that the sail's own motion neither delays its hiding nor its return: seen from where it vanishes and from where
  // it comes out, it never gets ahead of the bank.
  double ahead = 0;
  for (int i = 0; i < static_cast<int>(sail.size()); ++i) {
    if (i != from) ahead = std::max(ahead, (first.x - sail[i].x) / (i - from));
    if (i != to) ahead = std::max(ahead, (last.x + last.w - sail[i].x - sail[i].w) / (i - to));
  }
  speed_px_ = std::max(9 * unit_px, 2 * ahead);
  left_at_from_ = first.x - 0.5;
  const double right_at_to = last.x + last.w + 0.5;
  width_px_ = right_at_to + speed_px_ * (to - from) - left_at_from_;
  top_ = first.y;
  bottom_ = first.y + first.h;
  for (int i = from; i <= to; ++i) {
    top_ = std::min(top_, sail[i].y - 1);
    bottom_ = std::max(bottom_, sail[i].y + sail[i].h + 1);
    // A sway during the hiding may reach past the ends that its first and last frame ask for.
    const double drift = speed_px_ * (i - from);
    left_at_from_ = std::min(left_at_from_, sail[i].x - 0.5 + drift);
    width_px_ = std::max(width_px_, sail[i].x + sail[i].w + 0.5 + drift - left_at_from_);
  }
}

double CloudBank::left(int frame) const noexcept { return left_at_from_ - speed_px_ * (frame - from_); }

float CloudBank::texture(int frame, double x, double y) const noexcept {
  const auto wrap = [](double v) {
    return static_cast<int>(v - kTextureSide * std::floor(v / kTextureSide));
  };
  const int c = std::min(wrap((x - left(frame)) / unit_px_ + 40), kTextureSide - 1);
  const int r = std::min(wrap(y / unit_px_ + 30), kTextureSide - 1);
  return texture_(r, c);
}

float CloudBank::cover(int frame, double x, double y) const noexcept {
  const double core_left = left(frame);
  const double soft = kSoft * unit_px_;
  const double from_left = x - core_left;
  const double from_right = core_left + width_px_ - x;
  const double out = std::max({0.0, top_ - y, y - bottom_});
  const double reach = kLobes * unit_px_;
  if (std::min(from_left, from_right) < -soft - reach || out > (kRagged + kSoft) * unit_px_) return 0;
  // The flanks billow outwards, but not on the row where the sail's tip is the last of it to vanish or the first to
  // come out: that would hide it too long.
  const double grain = texture(frame, x, y);
  const auto lobe = [&](double row) {
    const double away = std::max(0.0, std::abs(y - row) - kTipBand * unit_px_);
    return reach * grain * std::min(1.0, away / (20 * unit_px_));
  };
  const double inside = std::min(from_left + lobe(entry_row_), from_right + lobe(exit_row_));
  const double sides = smooth_step(1 + (inside - 0.9 * out) / soft);
  const double ends = out > 0 ? smooth_step(1 + (kRagged * unit_px_ * grain - out) / soft) : 1.0;
  return static_cast<float>(sides * ends);
}

void CloudBank::draw(int frame, ImageView<float> rgb) const noexcept {
  const double reach = (kSoft + kRagged) * unit_px_;
  const double aside = (kSoft + kLobes) * unit_px_;
  const int first_row = std::clamp(static_cast<int>(top_ - reach), 0, rgb.rows);
  const int end_row = std::clamp(static_cast<int>(bottom_ + reach) + 1, 0, rgb.rows);
  const auto column = [&](double x) { return static_cast<int>(std::clamp<double>(x, 0, rgb.cols)); };
  const int first_col = column(left(frame) - aside);
  const int end_col = column(left(frame) + width_px_ + aside + 1);
  for (int r = first_row; r < end_row; ++r)
    for (int c = first_col; c < end_col; ++c) {
      const float share = cover(frame, c + 0.5, r + 0.5);
      if (share <= 0) continue;
      // Lit from above, darker underneath.
      const float down = static_cast<float>((r - top_) / (bottom_ - top_));
      const float level = 226 - 26 * std::clamp(down, -0.5f, 1.5f) + 44 * (texture(frame, c, r) - 0.5f);
      float* pixel = rgb.row(r) + 3 * c;
      pixel[0] += share * (level - 3 - pixel[0]);
      pixel[1] += share * (level - pixel[1]);
      pixel[2] += share * (level + 4 - pixel[2]);
    }
}

}  // namespace mnemon
