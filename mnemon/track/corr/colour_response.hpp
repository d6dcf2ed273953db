// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// A response by colour alone: for every shift of the target's box over the window, the mean likelihood in the box
/// less that over the whole window. Turning and bending, which break a template, leave it as it is; it says roughly
/// where a target is, as a filter's response says exactly. Allocates nothing once made.
/// Source: the idea of adding both is that of Bertinetto, Valmadre, Golodetz, Miksik and Torr, CVPR 2016.
class ColourResponse {
 public:
  ColourResponse() = default;
  /// For windows of that many cells.
  ColourResponse(int rows, int cols) : sums_(rows + 1, cols + 1), response_(rows, cols) {}

  /// \param likelihood  Of each cell of a window, rows x cols, each in [0, 1].
  /// \param share       Of the window's sides that the target takes.
  /// \returns  rows x cols, the middle cell for the target in the window's middle; it holds until the next call.
  ImageView<const float> find(ImageView<const float> likelihood, Point share) noexcept;

  /// The last response.
  [[nodiscard]] ImageView<const float> response() const noexcept { return response_.view(); }

 private:
  Image<float> sums_;
  Image<float> response_;
};

}  // namespace mnemon
