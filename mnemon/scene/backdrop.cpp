// SPDX-License-Identifier: MIT
#include <mnemon/scene/backdrop.hpp>

#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

constexpr Tint kZenith{84, 136, 196};
constexpr Tint kHaze{196, 214, 226};
constexpr Tint kCloud{240, 242, 244};
constexpr Tint kFarSea{120, 158, 176};
constexpr Tint kNearSea{38, 88, 112};
constexpr Tint kSeaShadow{22, 52, 70};
constexpr Tint kChalk{214, 206, 186};
constexpr Tint kShade{138, 124, 102};
constexpr Tint kGrass{98, 128, 58};
constexpr Tint kDryGrass{152, 150, 84};
constexpr Tint kBark{66, 54, 44};
constexpr Tint kLeaf{58, 84, 40};
constexpr Tint kCord{90, 88, 84};

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

// How much of pixel row r lies below a line at height y.
float below(int r, double y) { return static_cast<float>(std::clamp(r + 1 - y, 0.0, 1.0)); }

}  // namespace

Backdrop::Backdrop(int rows, int cols, int margin, std::uint64_t key)
    : margin_(margin),
      picture_rows_(rows),
      picture_cols_(cols),
      horizon_(margin + static_cast<int>(0.64 * rows)),
      base_(rows + 2 * margin, cols + 2 * margin, 3),
      land_(rows + 2 * margin, cols + 2 * margin, 3),
      land_cover_(rows + 2 * margin, cols + 2 * margin) {
  const double unit = rows / 360.0;
  const int all_rows = base_.rows();
  const int period = 2 * base_.cols();
  cloud_ = fractal_texture(horizon_, period, {190 * unit, 70 * unit, 6}, mix_bits(key + 1));
  for (int r = 0; r < horizon_; ++r)
    for (float& v : std::span(cloud_.view().row(r), period)) {
      const float low = 0.56f - 0.10f * static_cast<float>(r) / static_cast<float>(horizon_);
      v = 0.85f * smooth_step((v - low) / 0.26f);
    }
  ripples_ = fractal_texture(all_rows - horizon_, period, {26 * unit, 3.2 * unit, 3}, mix_bits(key + 2));
  swell_ = fractal_texture(all_rows - horizon_, period, {60 * unit, 7 * unit, 4}, mix_bits(key + 3));
  paint_sky_and_sea();
  paint_cliff(mix_bits(key + 4));
  paint_meadow(mix_bits(key + 5));
  find_front_top();
}

void Backdrop::find_front_top() {
  for (front_top_ = 0; front_top_ < rows(); ++front_top_)
    for (const float cover : std::span(land_cover_.view().row(front_top_), cols()))
      if (cover > 0) return;
}

void Backdrop::paint_sky_and_sea() {
  for (int r = 0; r < rows(); ++r) {
    const float down = r < horizon_
                           ? static_cast<float>(r) / static_cast<float>(horizon_)
                           : static_cast<float>(r - horizon_) / static_cast<float>(rows() - horizon_);
    const Tint tint =
        r < horizon_ ? mixed(kZenith, kHaze, down * down) : mixed(kFarSea, kNearSea, std::sqrt(down));
    for (int c = 0; c < base_.cols(); ++c) put(base_.view(), r, c, tint);
  }
}

// A headland on the right: an edge that falls steeply to the sea, banded chalk, grass on top.
void Backdrop::paint_cliff(std::uint64_t key) {
  const double unit = picture_rows_ / 360.0;
  const Image<float> rock = fractal_texture(rows(), cols(), {70 * unit, 24 * unit, 5}, key);
  const Image<float> turf = fractal_texture(rows(), cols(), {12 * unit, 6 * unit, 4}, mix_bits(key));
  for (int c = 0; c < cols(); ++c) {
    const double along = (static_cast<double>(c - margin_) / picture_cols_ - 0.62) / 0.38;  // 0 at the edge
    if (along < -0.1) continue;
    const double rough = 6 * unit * smooth_noise(c / (9 * unit), key + 1);
    const double rise = smooth_step(std::clamp((along + 0.06) / 0.12, 0.0, 1.0));
    const double crown =
        horizon_ - 26 * unit - 34 * unit * along - 5 * unit * smooth_noise(c / (40 * unit), key + 2);
    const double top = (1 - rise) * (margin_ + picture_rows_ * 0.93 + rough) + rise * crown;
    const double turf_depth = unit * (7 + 5 * smooth_noise(c / (14 * unit), key + 3)) * rise;
    for (int r = std::max(0, static_cast<int>(top)); r < rows(); ++r) {
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
  const double unit = picture_rows_ / 360.0;
  const Image<float> turf = fractal_texture(rows(), cols(), {16 * unit, 22 * unit, 5}, key);
  for (int c = 0; c < cols(); ++c) {
    const double blades = 5 * unit * smooth_noise(c / (2.2 * unit), key + 1);
    const double top =
        margin_ + picture_rows_ * 0.875 - 9 * unit * smooth_noise(c / (90 * unit), key + 2) + blades;
    for (int r = std::max(0, static_cast<int>(top)); r < rows(); ++r) {
      const float cover = below(r, top);
      const double depth = std::clamp((r - top) / (0.13 * picture_rows_), 0.0, 1.0);
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

// Cords that sag between the picture's sides, with pennants as wide as they are apart at full level.
void Backdrop::string_bunting(double level, const std::vector<Tint>& colours, std::uint64_t key) {
  const double unit = picture_rows_ / 360.0;
  bunting_ = Paper(rows(), cols());
  Random random(key);
  const int cords = 1 + static_cast<int>(std::lround(15 * level));
  const double size = 24 * unit;
  for (int i = 0; i < cords; ++i) {
    const double from = margin_ + picture_rows_ * 0.62 * (i + random.uniform(0.2, 0.8)) / cords;
    const double to = from + random.uniform(-0.1, 0.1) * picture_rows_;
    const double sag = random.uniform(0.02, 0.06) * picture_rows_;
    const auto cord = [&](double x) {
      const double along = x / cols();
      return Point{x, from + (to - from) * along + 4 * sag * along * (1 - along)};
    };
    const double apart = size * (1.05 + 1.6 * (1 - level));
    auto n = static_cast<std::size_t>(random.bits() % 4);
    for (double x = -random.uniform(0, apart); x < cols(); x += apart, ++n) {
      bunting_.paint(band(cord(x), cord(x + apart), 0.9 * unit), kCord);
      const Point a = cord(x);
      const Point b = cord(x + size);
      const Point tip{(a.x + b.x) / 2 + random.uniform(-3, 3) * unit, (a.y + b.y) / 2 + 1.25 * size};
      bunting_.paint({a, b, tip}, shaded(colours[n % colours.size()], random.uniform(0.85, 1.05)));
    }
  }
}

void Backdrop::lay_in_front(const Paper& plants, Point clear, double radius) {
  for (int r = 0; r < rows(); ++r)
    for (int c = 0; c < cols(); ++c) {
      const double away = std::hypot(c + 0.5 - margin_ - clear.x, r + 0.5 - margin_ - clear.y) / radius;
      const float share = plants.cover(r, c) * static_cast<float>(smooth_step(4 * (away - 1)));
      if (share <= 0) continue;
      const float* tint = plants.rgb.view().row(r) + 3 * c;
      float* pixel = land_.view().row(r) + 3 * c;
      float& land = land_cover_(r, c);
      if (land <= 0) std::copy_n(tint, 3, pixel);
      lay(pixel, share, {tint[0], tint[1], tint[2]});
      land += (1 - land) * share;
    }
  find_front_top();
}

// Trunks that fork, with leaves about their ends. None grows through the place that is to be clear.
void Backdrop::grow_thicket(double level, Point clear, double radius, std::uint64_t key) {
  const double unit = picture_rows_ / 360.0;
  Paper plants(rows(), cols());
  Random random(key);
  const auto is_clear = [&](Point p) {
    return std::hypot(p.x - margin_ - clear.x, p.y - margin_ - clear.y) > 1.25 * radius + 12 * unit;
  };
  const auto leaf = [&](Point at, double size, Tint tint) {
    const double turn = random.uniform(0, 6.3);
    const Point along{size * std::cos(turn), size * std::sin(turn)};
    if (!is_clear(at)) return;
    plants.paint({{at.x - along.x, at.y - along.y},
                  {at.x - 0.4 * along.y, at.y + 0.4 * along.x},
                  {at.x + along.x, at.y + along.y},
                  {at.x + 0.4 * along.y, at.y - 0.4 * along.x}},
                 tint);
  };
  const auto crown = [&](Point tip, double light) {
    for (int n = 0; n < static_cast<int>(4 + 12 * level); ++n)
      leaf({tip.x + random.uniform(-13, 13) * unit, tip.y + random.uniform(-11, 11) * unit},
           random.uniform(2.5, 5) * unit,
           shaded(mixed(kLeaf, kDryGrass, static_cast<float>(0.35 * random.uniform())),
                  light * random.uniform(0.7, 1.3)));
  };
  const int trunks = 2 + static_cast<int>(std::lround(26 * level * cols() / (1.78 * rows())));
  for (int i = 0; i < trunks; ++i) {
    const double light = random.uniform(0.7, 1.15);
    Point at{cols() * (i + random.uniform(0.1, 0.9)) / trunks, static_cast<double>(rows())};
    double width = random.uniform(5, 11) * unit;
    double lean = random.uniform(-0.16, 0.16);
    const double top = margin_ + picture_rows_ * random.uniform(-0.05, 0.22);
    while (at.y > top && width > 1 * unit) {
      const double length = random.uniform(18, 34) * unit;
      const Point next{at.x + lean * length, at.y - length};
      if (!is_clear(next)) {  // a tree that would grow there ends in a crown below
        crown(at, light);
        break;
      }
      plants.paint(band(at, next, width), shaded(kBark, light));
      const int twigs = at.y < margin_ + 0.66 * picture_rows_ ? 2 : static_cast<int>(random.bits() % 2);
      for (int twig = 0; twig < twigs; ++twig) {
        const double side = random.bits() % 2 == 0 ? 1 : -1;
        const Point tip{next.x + side * random.uniform(10, 30) * unit, next.y - random.uniform(2, 22) * unit};
        if (is_clear(tip)) plants.paint(band(next, tip, 0.35 * width), shaded(kBark, light));
        crown(tip, light);
      }
      width *= 0.88;
      lean += random.uniform(-0.12, 0.12);
      at = next;
    }
  }
  lay_in_front(plants, clear, radius);
}

void Backdrop::draw_behind(double time_s, ImageView<float> rgb) const {
  const double unit = picture_rows_ / 360.0;
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
      // The shadow of the cloud as far above the horizon as this is below, stretched towards the viewer.
      const int above = std::max(0, horizon_ - 1 - (r - horizon_) * 2);
      shifted_row(cloud_.view().row(above), cloud_.cols(), 7 * unit * time_s + 90 * unit, line.data(),
                  rgb.cols);
      for (float& v : line) v *= 0.28f;
      lay_over(line.data(), kSeaShadow.red, kSeaShadow.green, kSeaShadow.blue, rgb.row(r), rgb.cols);
    }
    if (!bunting_.rgb.empty())
      cover_row(bunting_.rgb.view().row(r), bunting_.cover.view().row(r), rgb.row(r), rgb.cols);
  }
}

}  // namespace mnemon
