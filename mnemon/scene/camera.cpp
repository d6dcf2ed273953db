// SPDX-License-Identifier: MIT
#include <mnemon/scene/camera.hpp>

#include <cmath>
#include <numbers>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

constexpr double kReach = 0.26;      // of the picture's height, at full level
constexpr double kLargestTurn = 12;  // degrees

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

}  // namespace mnemon
