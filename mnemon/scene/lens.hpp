// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>

#include <mnemon/image/image.hpp>
#include <mnemon/scene/scene_spec.hpp>

namespace mnemon {

/// What air, lens and sensor make of a scene: all on RGB pictures of grey levels. Calls change only the picture
/// given, so that threads may share a lens.
class Lens {
 public:
  /// Blurs, vignettes and adds noise as the parameters say; the key draws the noise.
  Lens(const SceneParams& params, std::uint64_t key);

  /// Dulls what is far, towards the colour of the air; `depth` is the share of the haze that lies before it, in [0, 1].
  void dull(float depth, ImageView<float> rgb) const noexcept;

  /// Streaks of rain of one frame.
  void rain(int frame, ImageView<float> rgb) const;

  /// Night, dusk, flicker and white balance.
  void light(double time_s, ImageView<float> rgb) const noexcept;

  /// The focus of one moment.
  void focus(double time_s, ImageView<float> rgb) const;

  /// Counts photons: grey levels with their noise become bytes.
  [[nodiscard]] Image<Byte> expose(int frame, ImageView<const float> rgb) const;

  /// What is left of a picture once it has been compressed and read again.
  [[nodiscard]] Image<Byte> compress(Image<Byte> rgb) const;

  /// How long the shutter is open, in frames.
  [[nodiscard]] double shutter() const noexcept;

 private:
  SceneParams params_;
  std::uint64_t key_;
};

}  // namespace mnemon
