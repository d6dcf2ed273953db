// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <cmath>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/vision/colour_model.hpp>

namespace mnemon {

/// Where a place lies in the target's box: 0 in its middle, 1 on its edge, each way.
struct PlaceInTarget {
  double across = 0;  ///< In half widths, from the middle.
  double down = 0;    ///< In half heights, from the middle.
  /// Of the distance from the middle.
  [[nodiscard]] double squared() const noexcept { return across * across + down * down; }
  /// The larger of the two, without its sign.
  [[nodiscard]] double outermost() const noexcept { return std::max(std::abs(across), std::abs(down)); }
};

/// The place of the middle of a sample, of a window with the target in its middle.
/// \param share  Of the window's sides that the target takes.
[[nodiscard]] inline PlaceInTarget place_in_target(int r, int c, int rows, int cols, Point share) noexcept {
  return {(2 * (c + 0.5) / cols - 1) / share.x, (2 * (r + 0.5) / rows - 1) / share.y};
}

/// Takes a window's colours into a model of the target and its surroundings, at a rate from 0 to 1: those inside the
/// box by how near its middle they are, those well outside it as surroundings. Every other sample each way is enough.
void learn_colours(ImageView<const ColourIndex> colours, Point share, double rate,
                   ColourModel& model) noexcept;

/// The mean likelihood of the samples of each cell.
/// \param colours  4 rows x 4 cols samples.
/// \param model    What is known of the target's colours.
/// \param cells    rows x cols.
void cell_likelihood_into(ImageView<const ColourIndex> colours, const ColourModel& model,
                          ImageView<float> cells) noexcept;

}  // namespace mnemon
