// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/scene/target.hpp>

namespace mnemon {

/// A round weather balloon on a tether, with bands so that it can be told from a cloud; its pose says where the
/// middle of the ball is.
class Balloon final : public Target {
 public:
  /// \param cloth  Four colours, of which it takes one for its bands.
  explicit Balloon(std::vector<Tint> cloth) : cloth_(std::move(cloth)) {}

  [[nodiscard]] Polygon outline(const Pose& pose) const override;
  void draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const override;
  [[nodiscard]] std::vector<Tint> colours() const override { return cloth_; }

 private:
  std::vector<Tint> cloth_;
};

/// A circle of diameter 1 about the origin, as a polygon of the same area.
[[nodiscard]] Polygon disc();

}  // namespace mnemon
