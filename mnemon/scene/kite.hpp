// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <vector>

#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/scene/coverage.hpp>
#include <mnemon/scene/flight.hpp>

namespace mnemon {

/// A colour of a scene, in grey levels from 0 to 255.
struct Tint {
  float red = 0;
  float green = 0;
  float blue = 0;
};

/// The tip of the sail from which the tail hangs, px.
[[nodiscard]] Point lower_tip(const KitePose& pose);

/// The sail's edge, px. The sail is the target: its tail and line are not.
[[nodiscard]] Polygon sail_outline(const KitePose& pose);

/// A diamond kite with four sewn panels, stripes, spars and a tail with bows. Drawing changes only the
/// picture and the tile given, so that threads may share a kite.
class Kite {
 public:
  /// The colours come from `key`.
  explicit Kite(std::uint64_t key);

  /// Draws line, tail and sail onto an RGB picture of grey levels.
  void draw(const KitePose& pose, ImageView<float> rgb, CoverageTile& tile) const;

 private:
  void draw_tail(const KitePose& pose, ImageView<float> rgb, CoverageTile& tile) const;
  void draw_sail(const KitePose& pose, ImageView<float> rgb, CoverageTile& tile) const;

  std::vector<Tint> cloth_;  // four panels, then the stripe, then the tail and its bows
  std::uint64_t key_;
};

}  // namespace mnemon
