// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/track/mask/appearance.hpp>

namespace mnemon {

/// Which cells of an appearance can be seen in a patch, and which have something before them. Allocates nothing once
/// made.
class VisibleCells {
 public:
  VisibleCells() = default;
  /// For appearances of that shape. All cells can be seen at first.
  VisibleCells(int rows, int cols);

  /// Looks at a patch at a pose. A cell is hidden that is, with those beside it, far less alike than the more alike
  /// ones of all are, or than `usual`, a likeness, where these are more alike than that. Cells beyond the target or the
  /// picture count as visible.
  void tell(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
            double usual) noexcept;

  /// How visible each cell is, in [0, 1].
  [[nodiscard]] ImageView<const float> view() const noexcept { return visible_.view(); }

  /// Takes over what another, of the same shape, saw.
  void copy_from(const VisibleCells& other) noexcept {
    std::ranges::copy(other.visible_.elements(), visible_.elements().begin());
  }

  /// The share of an appearance's target that is visible, in [0, 1].
  [[nodiscard]] double share(const Appearance& appearance) const noexcept;

  /// A box of what was found of a target at a pose, px, widened to take in what of it is hidden.
  [[nodiscard]] Box with_hidden(const Box& found, const Appearance& appearance,
                                const TargetPose& pose) const noexcept;

 private:
  [[nodiscard]] float alike_about(int row, int col) const noexcept;

  Image<float> visible_;
  Image<float> alike_;  // how alike each cell of the target is, below 0 for others
};

}  // namespace mnemon
