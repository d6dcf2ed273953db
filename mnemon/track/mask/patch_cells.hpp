// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cmath>
#include <cstddef>

#include <mnemon/track/mask/appearance.hpp>

namespace mnemon {

/// A patch's channels at a place.
struct PatchValues {
  std::array<float, kPatchChannels> value;
};

/// Its channels as rows of numbers, and where the picture lies in it.
struct PatchPlanes {
  std::array<const float*, kPatchChannels> channel;
  TargetPatch::Extent extent;
  std::ptrdiff_t stride;
};

inline bool is_within(const TargetPatch::Extent& extent, double x, double y) noexcept {
  return x >= extent.left && y >= extent.top && x < extent.right && y < extent.bottom;
}

/// Between cells, and false beyond the edge of the patch or the picture.
inline bool take(const PatchPlanes& planes, double x, double y, PatchValues& taken) noexcept {
  if (!is_within(planes.extent, x, y)) return false;
  const int left = static_cast<int>(x);
  const int top = static_cast<int>(y);
  const auto across = static_cast<float>(x - left);
  const auto down = static_cast<float>(y - top);
  const std::ptrdiff_t at = top * planes.stride + left;
  for (int k = 0; k < kPatchChannels; ++k) {
    const float* const p = planes.channel[k] + at;
    const float upper = p[0] + across * (p[1] - p[0]);
    const float* const q = p + planes.stride;
    const float lower = q[0] + across * (q[1] - q[0]);
    taken.value[k] = upper + down * (lower - upper);
  }
  return true;
}

inline PatchPlanes planes_of(const TargetPatch& patch) noexcept {
  PatchPlanes planes{{}, patch.in_picture(), patch.plane(0).stride};
  for (int k = 0; k < kPatchChannels; ++k) planes.channel[k] = patch.plane(k).data;
  return planes;
}

/// How a pose maps an appearance's cells to a patch's.
struct CellMap {
  Point first, col, row;  // where the appearance's first cell is, and the steps of a column and of a row

  [[nodiscard]] double x(int r, int c) const noexcept { return first.x + c * col.x + r * row.x; }
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
