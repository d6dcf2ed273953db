// SPDX-License-Identifier: MIT
#pragma once
#include <array>

#include <mnemon/track/mask/appearance.hpp>
#include <mnemon/track/mask/cell_plane.hpp>

namespace mnemon {

/// What a patch shows where a pose puts the cells of an appearance, each between four of the patch's own cells. Taken
/// once, it can be compared to many appearances. Allocates nothing once made.
class CellSamples {
 public:
  CellSamples() = default;
  /// For appearances of that shape.
  CellSamples(int rows, int cols);

  /// Samples a patch where the cells of an appearance lie at a pose.
  void take(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose) noexcept;

  /// Rows x columns of the appearance.
  [[nodiscard]] const CellPlane& channel(int k) const noexcept { return channels_[k]; }
  /// 1 where there is something to take, 0 beyond the edge of patch or picture.
  [[nodiscard]] const CellPlane& taken() const noexcept { return taken_; }
  /// 1 in the picture, patch or not, and 0 beyond its edge.
  [[nodiscard]] const CellPlane& in_picture() const noexcept { return in_picture_; }

 private:
  std::array<CellPlane, kPatchChannels> channels_;
  CellPlane taken_;
  CellPlane in_picture_;
};

}  // namespace mnemon
