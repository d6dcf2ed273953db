// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// How far what is in a box stands out by its colours: the mean weight in the ellipse in it less that around the box, up to half as
/// far out again. Of the part that lies in the picture, by 32 x 32 samples; where there is none of either, that counts 0.
/// \param rgb    3 channels.
/// \param table  What each of the kColours colours weighs, in [0, 1].
/// \param box    Px, of some area.
/// \returns  In [-1, 1].
[[nodiscard]] double box_contrast(ImageView<const Byte> rgb, const float* table, const Box& box) noexcept;

}  // namespace mnemon
