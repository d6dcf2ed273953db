// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cstdint>
#include <vector>

#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/image/image.hpp>
/// \file
/// Colours by number: 16 levels of red, green and blue each, 4096 colours. What is known of a colour is then a
/// table small enough for the processor's nearest cache.
namespace mnemon {

/// A colour in steps of 16 levels a channel: 4 bits each of red, green and blue.
using ColourIndex = std::uint16_t;
inline constexpr int kColours = 4096;     ///< How many of them there are.
inline constexpr int kColourLevels = 16;  ///< Of each of red, green and blue.

/// The index of a pixel's colour.
[[nodiscard]] inline ColourIndex colour_index(const Byte* rgb) noexcept {
  return static_cast<ColourIndex>((rgb[0] >> 4) << 8 | (rgb[1] >> 4) << 4 | rgb[2] >> 4);
}

/// What so many pixels, of three bytes each, weigh by a table of kColours, times `unit`; one weight a pixel.
void weigh_colours(const Byte* rgb, int pixels, const float* table, float unit, float* weights) noexcept;

/// What so many colours weigh by such a table.
void weigh_colours(const ColourIndex* colours, int count, const float* table, float* weights) noexcept;

/// The middle of that colour's range: red, green and blue, each in [0, 1].
[[nodiscard]] std::array<float, 3> colour_of(ColourIndex index) noexcept;

/// Where on the colour circle, in sixths of it: 0 (red) over 2 (green) and 4 (blue) to below 6; 0 for greys.
[[nodiscard]] float hue_sixths(const std::array<float, 3>& rgb) noexcept;

/// Samples windows of RGB pictures as colours, the nearest pixel for each sample; beyond the picture's edge its edge
/// pixels. Nothing is averaged: a mean of two colours is a third one, which neither has. A call allocates nothing.
class ColourWindow {
 public:
  ColourWindow() = default;
  /// For windows of that many samples.
  ColourWindow(int rows, int cols) : x_(cols), y_(rows), indices_(rows, cols) {}

  /// \param rgb     Three channels, at least one pixel.
  /// \param window  Where, px; any place, size and turn.
  /// \returns  The colours, rows x cols; they hold until the next call.
  ImageView<const ColourIndex> sample(ImageView<const Byte> rgb, const OrientedBox& window) noexcept;

  /// The colours of the last call.
  [[nodiscard]] ImageView<const ColourIndex> indices() const noexcept { return indices_.view(); }

 private:
  void sample_upright(ImageView<const Byte> rgb, const Box& window) noexcept;
  void sample_turned(ImageView<const Byte> rgb, const OrientedBox& window) noexcept;

  std::vector<int> x_;  // of each column, as a place in a row of bytes
  std::vector<int> y_;
  Image<ColourIndex> indices_;
};

}  // namespace mnemon
