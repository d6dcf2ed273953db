// SPDX-License-Identifier: MIT
#include <mnemon/scene/camera.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

constexpr double kReach = 0.26;      // of the picture's height, at full level
constexpr double kLargestTurn = 12;  // degrees

// Where a place lies between four pixels.
struct Spot {
  int left;
  int top;
  int right;
  int bottom;
  float across;
  float down;
};

Spot spot_of(Point at, int rows, int cols) noexcept {
  const double x = std::clamp(at.x - 0.5, 0.0, static_cast<double>(cols - 1));
  const double y = std::clamp(at.y - 0.5, 0.0, static_cast<double>(rows - 1));
  const int left = static_cast<int>(x);
  const int top = static_cast<int>(y);
  return {left,
          top,
          std::min(left + 1, cols - 1),
          std::min(top + 1, rows - 1),
          static_cast<float>(x - left),
          static_cast<float>(y - top)};
}

}  // namespace

Camera::Camera(const SceneParams& params, std::uint64_t key)
    : motion_(params.camera_motion), width_(params.width), height_(params.height), key_(key) {}

int Camera::margin() const noexcept {
  return is_moving() ? static_cast<int>(std::ceil(height_ * (kReach * std::sqrt(motion_) + 0.08))) : 0;
}

Affine Camera::to_rest(double time_s) const noexcept {
  if (!is_moving()) return {};
  const double rate_hz = 0.5 + 3.5 * motion_;
  const auto shake = [&](int what) {
    const std::uint64_t own = mix_bits(key_ + static_cast<std::uint64_t>(what));
    const double at = rate_hz * time_s;
    return 0.75 * smooth_noise(at + 7, own) + 0.25 * smooth_noise(2.9 * at + 11, own + 1);
  };
  const double reach = kReach * std::sqrt(motion_) * height_;
  const double turn = kLargestTurn * motion_ * shake(3) * std::numbers::pi / 180;
  const double zoom = 1 + 0.06 * motion_ * shake(4);
  const Point middle{width_ / 2.0, height_ / 2.0};
  const double cosine = zoom * std::cos(turn);
  const double sine = zoom * std::sin(turn);
  return {cosine, -sine,  middle.x - cosine * middle.x + sine * middle.y + reach * shake(1),
          sine,   cosine, middle.y - sine * middle.x - cosine * middle.y + 0.7 * reach * shake(2)};
}

void warp_rgb_into(ImageView<const float> in, const Affine& map, ImageView<float> out) noexcept {
  for (int r = 0; r < out.rows; ++r) {
    float* to = out.row(r);
    for (int c = 0; c < out.cols; ++c) {
      const Spot spot = spot_of(mapped(map, {c + 0.5, r + 0.5}), in.rows, in.cols);
      const float* upper = in.row(spot.top);
      const float* lower = in.row(spot.bottom);
      for (int k = 0; k < 3; ++k) {
        const float a =
            upper[3 * spot.left + k] + spot.across * (upper[3 * spot.right + k] - upper[3 * spot.left + k]);
        const float b =
            lower[3 * spot.left + k] + spot.across * (lower[3 * spot.right + k] - lower[3 * spot.left + k]);
        to[3 * c + k] = a + spot.down * (b - a);
      }
    }
  }
}

float sampled(ImageView<const float> in, Point at) noexcept {
  const Spot spot = spot_of(at, in.rows, in.cols);
  const float* upper = in.row(spot.top);
  const float* lower = in.row(spot.bottom);
  const float a = upper[spot.left] + spot.across * (upper[spot.right] - upper[spot.left]);
  const float b = lower[spot.left] + spot.across * (lower[spot.right] - lower[spot.left]);
  return a + spot.down * (b - a);
}

}  // namespace mnemon
