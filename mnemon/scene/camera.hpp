// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>

#include <mnemon/scene/pose.hpp>
#include <mnemon/scene/scene_spec.hpp>

namespace mnemon {

/// A camera that a hand holds, more or less still.
class Camera {
 public:
  /// Moves as the parameters say; the key draws its path.
  Camera(const SceneParams& params, std::uint64_t key);

  /// Whether it moves at all.
  [[nodiscard]] bool is_moving() const noexcept { return motion_ > 0; }

  /// How far beyond the picture the world must reach, px.
  [[nodiscard]] int margin() const noexcept;

  /// From the picture to what a camera at rest would have taken there.
  [[nodiscard]] Affine to_rest(double time_s) const noexcept;

 private:
  double motion_;
  int width_;
  int height_;
  std::uint64_t key_;
};

}  // namespace mnemon
