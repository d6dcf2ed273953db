// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/turned_window.hpp>
#include <mnemon/track/corr/window_features.hpp>
#include <mnemon/vision/colour_index.hpp>
#include <mnemon/vision/gradient_histogram.hpp>
#include <mnemon/vision/soft_colours.hpp>

namespace mnemon {

/// What the filters of many channels see of a window: a stack of cells with gradient histograms (31 channels), grey
/// (1) and soft colours (8), tapered towards the window's edge. Grey and colours have their mean over the window taken
/// away, so that light alone makes no peak. A call allocates nothing.
class CellFeatures final : public WindowFeatures {
 public:
  static constexpr int kChannels = GradientHistogram::kChannels + 1 + kSoftColours;
  static constexpr int kGrey = GradientHistogram::kChannels;
  static constexpr int kColour = kGrey + 1;

  /// \param rows, cols    Cells.
  /// \param max_w, max_h  The largest window, px.
  CellFeatures(int rows, int cols, double max_w, double max_h);

  /// \returns  rows x cols x kChannels; it holds until the next call.
  ImageView<const float> take(ImageView<const Byte> rgb, const OrientedBox& window) noexcept override;

  /// The grey samples and the colours under the window of the last call, 4 rows x 4 cols.
  [[nodiscard]] ImageView<const float> grey() const noexcept { return grey_.view(); }
  [[nodiscard]] ImageView<const ColourIndex> colours() const noexcept override { return colours_.indices(); }

  /// The channels of the last call side by side as one picture, eight in a row.
  [[nodiscard]] Image<float> channels_picture() const;

  /// The stack of the last call.
  [[nodiscard]] ImageView<const float> stack() const noexcept { return stack_.view(); }

 private:
  TurnedWindow sampler_;
  GradientHistogram gradients_;
  ColourWindow colours_;
  Image<float> taper_;
  Image<float> grey_;
  Image<float> stack_;
};

}  // namespace mnemon
