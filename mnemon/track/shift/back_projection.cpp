// SPDX-License-Identifier: MIT
#include <mnemon/track/shift/back_projection.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kSide = BackProjection::kSide;
constexpr int kLanes = 16;
static_assert(kSide % kLanes == 0);

// Sums over one row: samples inside, weights, weights times column, and times its square.
struct RowSums {
  float count = 0;
  float mass = 0;
  float across = 0;
  float squares = 0;
};

float total(const float (&lane)[kLanes]) noexcept {
  float sum = 0;
  for (const float part : lane) sum += part;
  return sum;
}

// A sample counts where u² + v² < 1, with u and v linear in its column. Beyond those from `first` to `end`, multiples of
// kLanes, none does.
MNEMON_CLONES void sum_row(const float* __restrict weights, int first, int end, float u0, float du, float v0,
                           float dv, float level, float fade, RowSums& sums) noexcept {
  float count[kLanes] = {}, mass[kLanes] = {}, across[kLanes] = {}, squares[kLanes] = {};
  for (int i = first; i < end; i += kLanes)
    for (int k = 0; k < kLanes; ++k) {
      const float c = static_cast<float>(i + k);
      const float u = u0 + du * c;
      const float v = v0 + dv * c;
      const float squared = u * u + v * v;
      const float inside = squared < 1.0f ? 1.0f : 0.0f;
      const float above = weights[i + k] - level;
      const float weight = inside * (above > 0 ? above : 0.0f) * (1.0f - fade * squared);
      count[k] += inside;
      mass[k] += weight;
      across[k] += weight * c;
      squares[k] += weight * c * c;
    }
  sums = {total(count), total(mass), total(across), total(squares)};
}

}  // namespace

void BackProjection::look(ImageView<const Byte> rgb, const Box& window, const float* table) noexcept {
  window_ = window;
  colours_.sample(rgb, {window});
  weigh(table);
}

void BackProjection::weigh(const float* table) noexcept {
  weigh_colours(colours_.indices().data, kSide * kSide, table, weights_.view().data);
}

BackProjection::Axes BackProjection::axes_of(const Ellipse& ellipse) const noexcept {
  const double radians = ellipse.angle_deg * std::numbers::pi / 180;
  const double cosine = std::cos(radians);
  const double sine = std::sin(radians);
  const double dx = window_.w / kSide;
  const double dy = window_.h / kSide;
  const double x = window_.x + 0.5 * dx - ellipse.middle.x;
  const double y = window_.y + 0.5 * dy - ellipse.middle.y;
  const double w = std::max(1e-3, ellipse.half_w);
  const double h = std::max(1e-3, ellipse.half_h);
  return {cosine * dx / w, sine * dy / w,   (cosine * x + sine * y) / w,
          -sine * dx / h,  cosine * dy / h, (cosine * y - sine * x) / h};
}

Moments BackProjection::sums(const Ellipse& ellipse, float level, float fade) const noexcept {
  const Axes axes = axes_of(ellipse);
  const double reach = std::max(ellipse.half_w, ellipse.half_h);
  // The samples that it may hold of those along a side of the window.
  const auto within = [reach](double middle, double from, double length) {
    const double px = length / kSide;
    const double at = (middle - from) / px;
    return std::pair(static_cast<int>(std::clamp(at - reach / px - 1, 0.0, 1.0 * kSide)),
                     static_cast<int>(std::clamp(at + reach / px + 1, 0.0, 1.0 * kSide)));
  };
  const auto [top, bottom] = within(ellipse.middle.y, window_.y, window_.h);
  const auto [left, right] = within(ellipse.middle.x, window_.x, window_.w);
  const int first = left / kLanes * kLanes;
  const int end = (right + kLanes - 1) / kLanes * kLanes;
  double count = 0, mass = 0, c1 = 0, r1 = 0, c2 = 0, cr = 0, r2 = 0;
  for (int r = top; r < bottom; ++r) {
    RowSums row;
    sum_row(weights_.view().row(r), first, end, static_cast<float>(axes.b * r + axes.c),
            static_cast<float>(axes.a), static_cast<float>(axes.e * r + axes.f), static_cast<float>(axes.d),
            level, fade, row);
    count += row.count;
    mass += row.mass;
    c1 += row.across;
    r1 += static_cast<double>(r) * row.mass;
    c2 += row.squares;
    cr += static_cast<double>(r) * row.across;
    r2 += static_cast<double>(r) * r * row.mass;
  }
  Moments moments;
  moments.count = count;
  moments.mass = mass;
  moments.middle = ellipse.middle;
  if (!(mass > 1e-6)) return moments;
  const double c = c1 / mass;
  const double r = r1 / mass;
  const double dx = window_.w / kSide;
  const double dy = window_.h / kSide;
  moments.middle = place_of(r, c);
  moments.xx = (c2 / mass - c * c) * dx * dx;
  moments.xy = (cr / mass - c * r) * dx * dy;
  moments.yy = (r2 / mass - r * r) * dy * dy;
  return moments;
}

Moments BackProjection::moments_in(const Ellipse& ellipse) const noexcept { return sums(ellipse, 0, 0); }

Moments BackProjection::moments_above(const Ellipse& ellipse, double level) const noexcept {
  return sums(ellipse, static_cast<float>(level), 1);
}

}  // namespace mnemon
