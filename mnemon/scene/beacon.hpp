// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/scene/target.hpp>

namespace mnemon {

/// A lamp that a kite carries aloft, so bright that it shows at night, with a glow about it; dark, it can hardly be
/// seen. The lamp is the target; its pose says where its middle is, and how much of its light is on.
class Beacon final : public Target {
 public:
  /// \param cloth  Four colours, of which the lamp's is one.
  explicit Beacon(std::vector<Tint> cloth) : cloth_(std::move(cloth)) {}

  [[nodiscard]] Polygon outline(const Pose& pose) const override;
  void draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const override;
  [[nodiscard]] std::vector<Tint> colours() const override { return cloth_; }

 private:
  std::vector<Tint> cloth_;
};

/// How much of a blinking lamp's light is on at a moment, in [0, 1].
[[nodiscard]] double blinking(double time_s) noexcept;

}  // namespace mnemon
