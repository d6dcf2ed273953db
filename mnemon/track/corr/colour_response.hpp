// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/vision/colour_model.hpp>

namespace mnemon {

/// A response by colour alone: for every shift of the target's box over the window, the mean likelihood in the box
/// less that over the whole window. Turning and bending, which break a template, leave it as it is; it says roughly
/// where a target is, as a filter's response says exactly. Allocates nothing once made.
/// Source: the idea of adding both is that of Bertinetto, Valmadre, Golodetz, Miksik and Torr, CVPR 2016.
class ColourResponse {
 public:
  ColourResponse() = default;
  ColourResponse(int rows, int cols)
      : likelihood_(rows, cols), sums_(rows + 1, cols + 1), response_(rows, cols) {}

  /// \param colours  4 rows x 4 cols samples of a window.
  /// \param share    Of the window's sides that the target takes.
  /// \param model    What is known of the target's colours.
  /// \returns  rows x cols, the middle cell for the target in the window's middle; it holds until the next call.
  ImageView<const float> find(ImageView<const ColourIndex> colours, Point share,
                              const ColourModel& model) noexcept;

 private:
  Image<float> likelihood_;
  Image<float> sums_;
  Image<float> response_;
};

}  // namespace mnemon
