// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Which cells of a window with the target in its middle are the target's, each in [0, 1]: by their colours, against
/// those around the target, and by where they lie in its box. Where the colours tell nothing, or that would leave too
/// little, the target's box.
/// \param likelihood  Of each cell by its colours, rows x cols, each in [0, 1].
/// \param share       Of the window's sides that the target takes.
/// \param mask        To be filled, of the likelihood's shape.
/// Source: Lukežič and others, IJCV 2018, section 3.1; ours smooths the likelihood over neighbouring cells
/// instead of solving a field.
void target_mask_into(ImageView<const float> likelihood, Point share, ImageView<float> mask) noexcept;

}  // namespace mnemon
