// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>

namespace mnemon {

/// The size of a picture, px.
struct FrameSize {
  int width = 0;   ///< Columns.
  int height = 0;  ///< Rows.
  bool operator==(const FrameSize&) const = default;
};

/// One picture of a sequence: RGB, 8 bits a channel, three channels. The memory is that of whoever gave it.
struct Frame {
  ImageView<const Byte> rgb;  ///< The picture: rows x columns, 3 channels.
  int index = 0;              ///< From 0.
  double time_s = 0;          ///< Since the first frame.

  /// Of the picture.
  [[nodiscard]] FrameSize size() const noexcept { return {rgb.cols, rgb.rows}; }
};

}  // namespace mnemon
