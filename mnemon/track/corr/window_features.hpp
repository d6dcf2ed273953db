// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// What a filter sees of a window of the picture.
class WindowFeatures {
 public:
  WindowFeatures() = default;
  WindowFeatures& operator=(const WindowFeatures&) = delete;
  virtual ~WindowFeatures() = default;

  /// The features of that window, tapered towards its edge; they hold until the next call. Allocates nothing.
  /// \param rgb     Three channels, at least one pixel.
  /// \param window  Where, px; at most the largest size the features were made for, any place
  ///                and turn.
  virtual ImageView<const float> take(ImageView<const Byte> rgb, const OrientedBox& window) noexcept = 0;

  /// Limits what `take_target` tells to so many cells about the middle: where nothing else is learnt, the rest need not
  /// be worked out. Features that cannot do so tell all.
  virtual void keep_to_middle(int /*rows*/, int /*cols*/) {}

  /// The features of that window once more, for learning and comparing what is in its middle: as `take`, but 0 outside
  /// the cells that are kept to. Where they are centred, then as the window of the last `take` was.
  virtual ImageView<const float> take_target(ImageView<const Byte> rgb, const OrientedBox& window) noexcept {
    return take(rgb, window);
  }

  /// The colours of samples under the window of the last call; empty where the features have none.
  [[nodiscard]] virtual ImageView<const ColourIndex> colours() const noexcept { return {}; }

 protected:
  WindowFeatures(const WindowFeatures&) = default;
};

}  // namespace mnemon
