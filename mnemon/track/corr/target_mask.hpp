// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/vision/colour_model.hpp>

namespace mnemon {

/// Which cells of a window are the target's: by their colours, against those around the target, and by where they
/// lie in its box. Allocates nothing once made.
/// Source: Lukežič and others, IJCV 2018, section 3.1; ours takes colours a cell of 4 x 4 samples at a time and
/// smooths over neighbouring cells instead of solving a field.
class TargetMask {
 public:
  TargetMask() = default;
  TargetMask(int rows, int cols) : likelihood_(rows, cols), mask_(rows, cols) {}

  /// Works out the mask for a window: each cell in [0, 1]. Where the colours tell nothing, or the mask would
  /// leave too little, the target's box.
  /// \param colours  4 rows x 4 cols samples of a window with the target in its middle.
  /// \param share    Of the window's sides that the target takes.
  /// \param model    What is known of the target's colours.
  ImageView<const float> find(ImageView<const ColourIndex> colours, Point share,
                              const ColourModel& model) noexcept;

  [[nodiscard]] ImageView<const float> likelihood() const noexcept { return likelihood_.view(); }
  [[nodiscard]] ImageView<const float> mask() const noexcept { return mask_.view(); }

 private:
  Image<float> likelihood_;
  Image<float> mask_;
};

}  // namespace mnemon
