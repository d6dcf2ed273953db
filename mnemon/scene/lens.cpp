// SPDX-License-Identifier: MIT
#include <mnemon/scene/lens.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>
#include <vector>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/random.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/scene/fractal.hpp>
#include <mnemon/scene/paint.hpp>

namespace mnemon {
namespace {

constexpr Tint kAir{206, 214, 220};
constexpr Tint kDrop{214, 220, 226};
constexpr float kReadNoise = 1.2f;         // grey levels
constexpr float kPhotonNoise = 0.010f;     // variance a grey level, in good light
constexpr float kFewestPhotons = 1200.0f;  // the same at full noise: a photon for five pixels

inline std::uint32_t mix_word(std::uint32_t v) noexcept {
  v = (v ^ (v >> 16)) * 0x7feb352dU;
  v = (v ^ (v >> 15)) * 0x846ca68bU;
  return v ^ (v >> 16);
}

// Adds noise and rounds to bytes. The sum of a word's four bytes is near to normal: mean 510, deviation 147.8.
MNEMON_CLONES void expose_levels(const float* __restrict levels, std::uint32_t key, float read, float photon,
                                 Byte* __restrict bytes, int count) noexcept {
  for (int i = 0; i < count; ++i) {
    const std::uint32_t word = mix_word(static_cast<std::uint32_t>(i) * 0x9e3779b1U + key);
    const std::uint32_t sum = (word & 255U) + ((word >> 8) & 255U) + ((word >> 16) & 255U) + (word >> 24);
    const float caught = levels[i] < 0.0f ? 0.0f : levels[i] > 255.0f ? 255.0f : levels[i];
    const float deviation = __builtin_sqrtf(read + photon * caught) / 147.8f;
    const float level =
        levels[i] + deviation * (static_cast<float>(static_cast<std::int32_t>(sum)) - 510.0f) + 0.5f;
    const float kept = level < 0.0f ? 0.0f : level > 255.0f ? 255.0f : level;
    bytes[i] = static_cast<Byte>(static_cast<std::int32_t>(kept));
  }
}

MNEMON_CLONES void gain_row(float red, float green, float blue, float* __restrict rgb, int cols) noexcept {
  for (int c = 0; c < cols; ++c) {
    rgb[3 * c] *= red;
    rgb[3 * c + 1] *= green;
    rgb[3 * c + 2] *= blue;
  }
}

// Means over 2 * reach + 1 rows, the edge repeated, by a running sum.
void blur_down(ImageView<const float> in, int reach, ImageView<float> out) {
  const int length = in.row_length();
  std::vector<float> sum(static_cast<std::size_t>(length), 0.0f);
  const auto row = [&](int r) { return in.row(std::clamp(r, 0, in.rows - 1)); };
  for (int r = -reach; r <= reach; ++r) add_row(row(r), 1, sum.data(), length);
  const float share = 1.0f / static_cast<float>(2 * reach + 1);
  for (int r = 0; r < in.rows; ++r) {
    for (int i = 0; i < length; ++i) out.row(r)[i] = share * sum[i];
    add_row(row(r + reach + 1), 1, sum.data(), length);
    add_row(row(r - reach), -1, sum.data(), length);
  }
}

void blur_across(ImageView<const float> in, int reach, ImageView<float> out) {
  const float share = 1.0f / static_cast<float>(2 * reach + 1);
  for (int r = 0; r < in.rows; ++r) {
    const float* row = in.row(r);
    std::array<float, 3> sum{};
    const auto at = [&](int c) { return row + 3 * std::clamp(c, 0, in.cols - 1); };
    for (int c = -reach; c <= reach; ++c)
      for (int k = 0; k < 3; ++k) sum[k] += at(c)[k];
    for (int c = 0; c < in.cols; ++c)
      for (int k = 0; k < 3; ++k) {
        out.row(r)[3 * c + k] = share * sum[k];
        sum[k] += at(c + reach + 1)[k] - at(c - reach)[k];
      }
  }
}

}  // namespace

Lens::Lens(const SceneParams& params, std::uint64_t key) : params_(params), key_(key) {}

double Lens::shutter() const noexcept { return std::min(1.0, params_.shutter + params_.blur); }

void Lens::dull(float depth, ImageView<float> rgb) const noexcept {
  const auto share = static_cast<float>(params_.haze) * depth;
  if (share <= 0) return;
  for (int r = 0; r < rgb.rows; ++r) {
    float* row = rgb.row(r);
    for (int c = 0; c < rgb.cols; ++c) lay(row + 3 * c, share, kAir);
  }
}

void Lens::rain(int frame, ImageView<float> rgb) const {
  if (params_.rain <= 0) return;
  const double unit = rgb.rows / 360.0;
  Random random(mix_bits(key_ + 900 + static_cast<std::uint64_t>(frame)));
  const int streaks = static_cast<int>(1100 * params_.rain * rgb.cols / (1.78 * rgb.rows));
  for (int i = 0; i < streaks; ++i) {
    const double near = random.uniform();
    const double length = (5 + 22 * near) * unit;
    const double x = random.uniform(-30, rgb.cols + 30.0);
    const double y = random.uniform(-length, rgb.rows);
    const float opacity = static_cast<float>(0.10 + 0.22 * near);
    for (int n = 0; n < static_cast<int>(length); ++n) {
      const int r = static_cast<int>(y + n);
      const int c = static_cast<int>(x - 0.22 * n);
      if (r >= 0 && c >= 0 && r < rgb.rows && c < rgb.cols) lay(rgb.row(r) + 3 * c, opacity, kDrop);
    }
  }
}

void Lens::light(double time_s, ImageView<float> rgb) const noexcept {
  if (params_.light <= 0 && params_.night <= 0) return;
  const double length_s = (params_.frames - 1) / params_.rate_hz;
  const double level = params_.light;
  const double dusk = smooth_step(time_s / length_s);
  const double flicker = smooth_noise(5 * time_s, mix_bits(key_ + 1)) - smooth_noise(0, mix_bits(key_ + 1));
  const double drift = smooth_noise(0.35 * time_s, mix_bits(key_ + 2)) - smooth_noise(0, mix_bits(key_ + 2));
  const double bright =
      -3.4 * std::pow(level, 1.5) * dusk + 0.9 * level * level * flicker - 2.3 * params_.night;
  const double warm = 0.55 * level * dusk + 0.5 * level * drift - 0.35 * params_.night;
  const auto red = static_cast<float>(std::exp(bright + warm));
  const auto green = static_cast<float>(std::exp(bright + 0.1 * warm));
  const auto blue = static_cast<float>(std::exp(bright - 0.9 * warm));
  for (int r = 0; r < rgb.rows; ++r) gain_row(red, green, blue, rgb.row(r), rgb.cols);
}

// Two means a direction are near enough to the disc of a lens out of focus.
void Lens::focus(double time_s, ImageView<float> rgb) const {
  if (params_.blur <= 0) return;
  const double wander = 0.55 + 0.45 * smooth_noise(1.3 * time_s, mix_bits(key_ + 3));
  const double sharp_first = smooth_step(2 * time_s);
  const int reach = static_cast<int>(
      std::lround(sharp_first * wander * 40 * params_.blur * params_.blur * rgb.rows / 360.0));
  if (reach <= 0) return;
  Image<float> other(rgb.rows, rgb.cols, 3);
  for (int round = 0; round < 2; ++round) {
    blur_down(rgb, reach, other.view());
    blur_across(std::as_const(other).view(), reach, rgb);
  }
}

Image<Byte> Lens::expose(int frame, ImageView<const float> rgb) const {
  Image<Byte> bytes(rgb.rows, rgb.cols, 3);
  const auto key = static_cast<std::uint32_t>(mix_bits(key_ + 1000 + static_cast<std::uint64_t>(frame)));
  const auto level = static_cast<float>(params_.noise);
  expose_levels(rgb.elements().data(), key, kReadNoise * kReadNoise,
                kPhotonNoise + kFewestPhotons * level * level * level * level * level,
                bytes.elements().data(), static_cast<int>(rgb.elements().size()));
  return bytes;
}

Image<Byte> Lens::compress(Image<Byte> rgb) const {
  if (params_.compression <= 0) return rgb;
  const int quality = std::max(1, static_cast<int>(std::lround(94 * std::pow(1 - params_.compression, 1.6))));
  return parse_picture(jpeg_bytes(std::as_const(rgb).view(), quality), "a compressed frame");
}

}  // namespace mnemon
