// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>

#include <mnemon/scene/target.hpp>

namespace mnemon {

/// The tip of the sail from which the tail hangs, in own units.
inline constexpr Point kKiteLowerTip{0, 0.64};

/// A diamond kite with four sewn panels, stripes, spars and a tail with bows. The sail is the target: its tail and
/// line are not. Its spars cross where its pose says it is.
class Kite final : public Target {
 public:
  /// \param cloth  Four colours.
  /// \param key    Draws the weave.
  Kite(std::vector<Tint> cloth, std::uint64_t key);

  [[nodiscard]] Polygon outline(const Pose& pose) const override;
  void draw(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const override;
  [[nodiscard]] std::vector<Tint> colours() const override { return cloth_; }

 private:
  void draw_tail(const Pose& pose, ImageView<float> rgb, CoverageTile& tile) const;
  void draw_panel(int panel, const Pose& pose, const Placing& place, ImageView<float> rgb,
                  CoverageTile& tile) const;
  void draw_spars(const Pose& pose, const Placing& place, ImageView<float> rgb, CoverageTile& tile) const;

  std::vector<Tint> cloth_;
  std::uint64_t key_;
};

}  // namespace mnemon
