// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/mask/cell_samples.hpp>

namespace mnemon {

/// Which cells of an appearance can be seen in a patch, and which have something before them. Allocates nothing once
/// made.
class VisibleCells {
 public:
  VisibleCells() = default;
  /// For appearances of that shape. All cells can be seen at first.
  VisibleCells(int rows, int cols);

  /// Goes by what a patch shows at a pose. A cell is hidden that is, with those beside it, far less alike than the more alike
  /// ones of all are, or than `usual`, a likeness, where these are more alike than that. Cells beyond the target or the
  /// picture count as visible.
  void tell(const CellSamples& seen, const Appearance& appearance, double usual) noexcept;

  /// How visible each cell is, in [0, 1].
  [[nodiscard]] const CellPlane& cells() const noexcept { return visible_; }

  /// Takes over what another, of the same shape, saw.
  void copy_from(const VisibleCells& other) noexcept { visible_.copy_from(other.visible_); }

  /// The share of an appearance's target that is visible, in [0, 1].
  [[nodiscard]] double share(const Appearance& appearance) const noexcept;

  /// A box of what was found of a target at a pose, px, widened to take in what of it is hidden.
  [[nodiscard]] Box with_hidden(const Box& found, const Appearance& appearance,
                                const TargetPose& pose) const noexcept;

 private:
  CellPlane visible_;
  CellPlane compared_;  // 1 for each cell of the target that can be compared, 0 for others
  CellPlane alike_;     // how alike these are, 0 for others
  CellPlane count_about_, sum_about_, work_;
};

}  // namespace mnemon
