// SPDX-License-Identifier: MIT
#include <mnemon/scene/backdrop.hpp>

#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>
#include <mnemon/scene/kite.hpp>

namespace mnemon {
namespace {

constexpr Tint kZenith{84, 136, 196};
constexpr Tint kHaze{196, 214, 226};
constexpr Tint kCloud{240, 242, 244};
constexpr Tint kFarSea{120, 158, 176};
constexpr Tint kNearSea{38, 88, 112};
constexpr Tint kChalk{214, 206, 186};
constexpr Tint kShade{138, 124, 102};
constexpr Tint kGrass{98, 128, 58};
constexpr Tint kDryGrass{152, 150, 84};

Tint mixed(Tint a, Tint b, float t) {
  return {a.red + t * (b.red - a.red), a.green + t * (b.green - a.green), a.blue + t * (b.blue - a.blue)};
}

void put(ImageView<float> rgb, int r, int c, Tint tint) {
  float* pixel = rgb.row(r) + 3 * c;
  pixel[0] = tint.red;
  pixel[1] = tint.green;
  pixel[2] = tint.blue;
}

// Samples [from, from + cols) of a row that repeats, between samples linearly.
MNEMON_CLONES void shifted_row(const float* __restrict row, int period, double from, float* __restrict out,
                               int cols) noexcept {
  const double wrapped = from - period * std::floor(from / period);
  const int start = static_cast<int>(wrapped);
  const float share = static_cast<float>(wrapped - start);
  for (int c = 0; c < cols; ++c) {
    const int at = start + c < period ? start + c : start + c - period;
    const int next = at + 1 < period ? at + 1 : 0;
    out[c] = row[at] + share * (row[next] - row[at]);
  }
}

MNEMON_CLONES void lay_over(const float* __restrict strength, float red, float green, float blue,
                            float* __restrict rgb, int cols) noexcept {
  for (int c = 0; c < cols; ++c) {
    rgb[3 * c] += strength[c] * (red - rgb[3 * c]);
    rgb[3 * c + 1] += strength[c] * (green - rgb[3 * c + 1]);
    rgb[3 * c + 2] += strength[c] * (blue - rgb[3 * c + 2]);
  }
}

MNEMON_CLONES void glitter(const float* __restrict a, const float* __restrict b, float strength,
                           float* __restrict rgb, int cols) noexcept {
  for (int c = 0; c < cols; ++c) {
    const float wave = (a[c] - 0.5f) + (b[c] - 0.5f);
    const float crest = wave > 0.24f ? (wave - 0.24f) * 260.0f : 0.0f;
    const float light = strength * (95.0f * wave + crest);
    rgb[3 * c] += light;
    rgb[3 * c + 1] += light;
    rgb[3 * c + 2] += light;
  }
}

MNEMON_CLONES void cover_row(const float* __restrict over, const float* __restrict cover,
                             float* __restrict rgb, int cols) noexcept {
  for (int c = 0; c < cols; ++c)
    for (int k = 0; k < 3; ++k) rgb[3 * c + k] += cover[c] * (over[3 * c + k] - rgb[3 * c + k]);
}

// How much of pixel row r lies below a line at height y.
float below(int r, double y) { return static_cast<float>(std::clamp(r + 1 - y, 0.0, 1.0)); }

}  // namespace

Backdrop::Backdrop(int rows, int cols, std::uint64_t key)
    : horizon_(static_cast<int>(0.64 * rows)),
      base_(rows, cols, 3),
      land_(rows, cols, 3),
      land_cover_(rows, cols) {
  const double unit = rows / 360.0;
  cloud_ = fractal_texture(horizon_, 2 * cols, {190 * unit, 70 * unit, 6}, mix_bits(key + 1));
  for (int r = 0; r < horizon_; ++r)
    for (float& v : std::span(cloud_.view().row(r), 2 * cols)) {
      const float low = 0.56f - 0.10f * static_cast<float>(r) / static_cast<float>(horizon_);
      v = 0.85f * smooth_step((v - low) / 0.26f);
    }
  ripples_ = fractal_texture(rows - horizon_, 2 * cols, {26 * unit, 3.2 * unit, 3}, mix_bits(key + 2));
  swell_ = fractal_texture(rows - horizon_, 2 * cols, {60 * unit, 7 * unit, 4}, mix_bits(key + 3));
  paint_sky_and_sea();
  paint_cliff(mix_bits(key + 4));
  paint_meadow(mix_bits(key + 5));
}

void Backdrop::paint_sky_and_sea() {
  const int rows = base_.rows();
  for (int r = 0; r < rows; ++r) {
    const float down = r < horizon_ ? static_cast<float>(r) / static_cast<float>(horizon_)
                                    : static_cast<float>(r - horizon_) / static_cast<float>(rows - horizon_);
    const Tint tint =
        r < horizon_ ? mixed(kZenith, kHaze, down * down) : mixed(kFarSea, kNearSea, std::sqrt(down));
    for (int c = 0; c < base_.cols(); ++c) put(base_.view(), r, c, tint);
  }
}

// A headland on the right: an edge that falls steeply to the sea, banded chalk, grass on top.
void Backdrop::paint_cliff(std::uint64_t key) {
  const int rows = base_.rows();
  const int cols = base_.cols();
  const double unit = rows / 360.0;
  const Image<float> rock = fractal_texture(rows, cols, {70 * unit, 24 * unit, 5}, key);
  const Image<float> turf = fractal_texture(rows, cols, {12 * unit, 6 * unit, 4}, mix_bits(key));
  for (int c = 0; c < cols; ++c) {
    const double along = (static_cast<double>(c) / cols - 0.62) / 0.38;  // 0 at the edge, 1 at the right
    if (along < -0.1) continue;
    const double rough = 6 * unit * smooth_noise(c / (9 * unit), key + 1);
    const double rise = smooth_step(std::clamp((along + 0.06) / 0.12, 0.0, 1.0));
    const double crown =
        horizon_ - 26 * unit - 34 * unit * along - 5 * unit * smooth_noise(c / (40 * unit), key + 2);
    const double top = (1 - rise) * (rows * 0.93 + rough) + rise * crown;
    const double turf_depth = unit * (7 + 5 * smooth_noise(c / (14 * unit), key + 3)) * rise;
    for (int r = std::max(0, static_cast<int>(top)); r < rows; ++r) {
      const float grain = rock(r, c);
      const float band =
          0.5f + 0.5f * static_cast<float>(smooth_noise(r / (5.5 * unit) + 2.5 * grain, key + 4));
      Tint tint =
          mixed(kShade, kChalk, std::clamp(0.25f + 0.9f * (0.55f * grain + 0.45f * band) - 0.1f, 0.0f, 1.0f));
      const double depth = r + 0.5 - top - 6 * unit * (turf(r, c) - 0.5);
      if (depth < turf_depth) tint = mixed(kGrass, kDryGrass, turf(r, c));
      put(land_.view(), r, c, tint);
      land_cover_(r, c) = below(r, top);
    }
  }
}

void Backdrop::paint_meadow(std::uint64_t key) {
  const int rows = base_.rows();
  const int cols = base_.cols();
  const double unit = rows / 360.0;
  const Image<float> turf = fractal_texture(rows, cols, {16 * unit, 22 * unit, 5}, key);
  for (int c = 0; c < cols; ++c) {
    const double blades = 5 * unit * smooth_noise(c / (2.2 * unit), key + 1);
    const double top = rows * 0.875 - 9 * unit * smooth_noise(c / (90 * unit), key + 2) + blades;
    for (int r = std::max(0, static_cast<int>(top)); r < rows; ++r) {
      const float cover = below(r, top);
      const double depth = std::clamp((r - top) / (0.13 * rows), 0.0, 1.0);
      const Tint grass =
          mixed(kDryGrass, kGrass, static_cast<float>(0.35 + 0.5 * depth) + 0.5f * (turf(r, c) - 0.5f));
      const float light = 0.72f + 0.56f * turf(r, c);
      float* pixel = land_.view().row(r) + 3 * c;
      const Tint under = land_cover_(r, c) > 0 ? Tint{pixel[0], pixel[1], pixel[2]} : grass;
      put(land_.view(), r, c,
          mixed(under, {light * grass.red, light * grass.green, light * grass.blue}, cover));
      land_cover_(r, c) = std::max(land_cover_(r, c), cover);
    }
  }
}

void Backdrop::draw_behind(double time_s, ImageView<float> rgb) const {
  const double unit = rgb.rows / 360.0;
  std::vector<float> line(rgb.cols);
  std::vector<float> other(rgb.cols);
  for (int r = 0; r < rgb.rows; ++r) {
    std::copy_n(base_.view().row(r), rgb.row_length(), rgb.row(r));
    if (r < horizon_) {
      shifted_row(cloud_.view().row(r), cloud_.cols(), 7 * unit * time_s, line.data(), rgb.cols);
      lay_over(line.data(), kCloud.red, kCloud.green, kCloud.blue, rgb.row(r), rgb.cols);
    } else {
      const float down = static_cast<float>(r - horizon_) / static_cast<float>(rgb.rows - horizon_);
      shifted_row(ripples_.view().row(r - horizon_), ripples_.cols(), -13 * unit * time_s, line.data(),
                  rgb.cols);
      shifted_row(swell_.view().row(r - horizon_), swell_.cols(), 21 * unit * time_s, other.data(), rgb.cols);
      glitter(line.data(), other.data(), 0.35f + 0.65f * down, rgb.row(r), rgb.cols);
    }
  }
}

void Backdrop::draw_land(ImageView<float> rgb) const {
  for (int r = 0; r < rgb.rows; ++r)
    cover_row(land_.view().row(r), land_cover_.view().row(r), rgb.row(r), rgb.cols);
}

}  // namespace mnemon
