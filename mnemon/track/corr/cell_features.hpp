// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <optional>

#include <mnemon/image/turned_window.hpp>
#include <mnemon/track/corr/window_features.hpp>
#include <mnemon/vision/colour_index.hpp>
#include <mnemon/vision/gradient_histogram.hpp>
#include <mnemon/vision/soft_colours.hpp>

namespace mnemon {

/// What the filters of many channels see of a window: a stack of cells with gradient histograms (22 channels), grey (1)
/// and soft colours (8), tapered towards the window's edge. One more channel is 0, as channels come in eights. Grey and
/// colours have their mean over the window taken away, so that light alone makes no peak. A call allocates nothing.
class CellFeatures final : public WindowFeatures {
 public:
  /// Gradients, grey, colours and nothing.
  static constexpr int kChannels = GradientHistogram::kChannels + 1 + kSoftColours + 1;
  static constexpr int kGrey = GradientHistogram::kChannels;  ///< The channel of grey.
  static constexpr int kColour = kGrey + 1;                   ///< The first channel of colours.

  /// \param rows, cols    Cells.
  /// \param max_w, max_h  The largest window, px.
  CellFeatures(int rows, int cols, double max_w, double max_h);

  /// \returns  rows x cols x kChannels; it holds until the next call.
  ImageView<const float> take(ImageView<const Byte> rgb, const OrientedBox& window) noexcept override;

  void keep_to_middle(int rows, int cols) override;
  ImageView<const float> take_target(ImageView<const Byte> rgb, const OrientedBox& window) noexcept override;

  /// The grey samples under the window of the last `take`, and the colours under that of the last call, 4 rows x 4 cols.
  [[nodiscard]] ImageView<const float> grey() const noexcept { return whole_.grey.view(); }
  [[nodiscard]] ImageView<const ColourIndex> colours() const noexcept override { return colours_.indices(); }

  /// The channels of the last `take` side by side as one picture, eight in a row.
  [[nodiscard]] Image<float> channels_picture() const;

  /// The stack of the last `take`.
  [[nodiscard]] ImageView<const float> stack() const noexcept { return stack_.view(); }

 private:
  // Gradients and grey of a grid of cells.
  struct Grid {
    Grid(int rows, int cols, double max_w, double max_h);
    void describe(ImageView<const Byte> rgb, const OrientedBox& window, ImageView<float> cells) noexcept;

    TurnedWindow sampler;
    GradientHistogram gradients;
    Image<float> grey;
  };

  Point max_size_;
  Grid whole_;
  std::optional<Grid> middle_;
  ColourWindow colours_;
  Image<float> taper_;
  std::array<float, kChannels> shift_{};  // what the last `take` took away
  Image<float> stack_;
  Image<float> target_;  // where there is a middle: the stack of that alone
};

}  // namespace mnemon
