// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>
#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// Channels of colour in words: how much of a cell is dark, light, and of each of six hues. A sample belongs to its
/// two nearest hues by the share that its colourfulness gives, and to dark and light by the rest, so that its eight
/// numbers add up to 1. Made of memberships and not of levels, such channels are peaked where a colour is, and
/// shading moves them little. Source: the idea of colour names as channels is that of van de Weijer, Schmid, Verbeek
/// and Larlus, TIP 2009; theirs are learnt from pictures, ours follow from the colour circle.
inline constexpr int kSoftColours = 8;

/// \param indices  4 rows x 4 cols colours for rows x cols cells.
/// \param cells    Written from channel `first` on: the mean over each cell's samples.
void soft_colours_into(ImageView<const ColourIndex> indices, ImageView<float> cells, int first) noexcept;

}  // namespace mnemon
