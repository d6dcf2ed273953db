// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Which cells of a window are the target's: by their colours, against those around the target, and by where they
/// lie in its box. Allocates nothing once made.
/// Source: Lukežič and others, IJCV 2018, section 3.1; ours smooths the likelihood over neighbouring cells
/// instead of solving a field.
class TargetMask {
 public:
  TargetMask() = default;
  TargetMask(int rows, int cols) : mask_(rows, cols) {}

  /// Works out the mask for a window with the target in its middle: each cell in [0, 1]. Where the colours tell nothing,
  /// or the mask would leave too little, the target's box.
  /// \param likelihood  Of each cell by its colours, rows x cols, each in [0, 1].
  /// \param share       Of the window's sides that the target takes.
  ImageView<const float> find(ImageView<const float> likelihood, Point share) noexcept;

  [[nodiscard]] ImageView<const float> mask() const noexcept { return mask_.view(); }

 private:
  Image<float> mask_;
};

}  // namespace mnemon
