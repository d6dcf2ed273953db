// SPDX-License-Identifier: MIT
#pragma once
#include <cmath>

#include <mnemon/track/mask/appearance.hpp>

namespace mnemon {

/// How a pose maps an appearance's cells to a patch's.
struct CellMap {
  Point first, col, row;  ///< Of the first cell, and the steps of a column and of a row.

  /// Of a cell's middle in the patch.
  [[nodiscard]] double x(int r, int c) const noexcept { return first.x + c * col.x + r * row.x; }
  /// Of a cell's middle in the patch.
  [[nodiscard]] double y(int r, int c) const noexcept { return first.y + c * col.y + r * row.y; }
};

inline CellMap map_of(const TargetPatch& patch, const Appearance& appearance,
                      const TargetPose& pose) noexcept {
  const double step = appearance.cell_px() / patch.block();
  const double along = std::cos(pose.turn) * step;
  const double aside = std::sin(pose.turn) * step;
  return {patch.cell_at(pose.place_of(appearance.place_of(0, 0))),
          {along * pose.scale_x(), aside * pose.scale_x()},
          {-aside * pose.scale_y(), along * pose.scale_y()}};
}

}  // namespace mnemon
