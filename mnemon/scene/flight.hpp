// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/scene/scene_spec.hpp>

namespace mnemon {

/// How the kite hangs in the air on one frame.
struct KitePose {
  Point at;                 ///< Where the spars cross, px.
  double size_px = 0;       ///< Length of the spine.
  double roll_deg = 0;      ///< Clockwise.
  double pitch = 1;         ///< Foreshortening along the spine, in (0, 1].
  std::vector<Point> tail;  ///< From the sail's lower tip, px.
};

/// Flies the kite: a mass on a spring to the place it is steered to, pushed about by smooth gusts, with a
/// roll that swings after its sideways pull, and a tail of joined links that hangs, trails and flutters.
/// \returns  One pose a frame.
[[nodiscard]] std::vector<KitePose> fly(const SceneParams& params, const std::vector<FlightKey>& keys,
                                        std::uint64_t key);

}  // namespace mnemon
