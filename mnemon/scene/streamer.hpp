// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/scene/target.hpp>

namespace mnemon {

/// A long streamer of cloth on a line, striped across, that waves run along; its pose says where its middle is.
class Streamer final : public Target {
 public:
  /// \param cloth  Four colours.
  explicit Streamer(std::vector<Tint> cloth) : cloth_(std::move(cloth)) {}

  [[nodiscard]] Polygon outline(const Pose& pose) const override;
  void draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const override;
  [[nodiscard]] std::vector<Tint> colours() const override { return cloth_; }

 private:
  std::vector<Tint> cloth_;
};

}  // namespace mnemon
