// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/vision/light_change.hpp>

namespace mnemon {

/// Samples windows of RGB pictures by blocks of whole pixels: each cell is the mean of a square of `block` x `block`
/// pixels, so that a cell's label is that of its pixels. Beyond the picture's edge its edge pixels. Allocates nothing
/// once made. Not to be shared by threads.
class BlockWindow {
 public:
  BlockWindow() = default;
  /// \param most_rows, most_cols  Cells of any window.
  /// \param most_block            Pixels along a cell's side, of any window.
  BlockWindow(int most_rows, int most_cols, int most_block);

  /// The window of so many cells whose first pixel is (left, top), at any place.
  /// \returns  The cells: rows x cols x 3, from 0 to 255; they hold until the next call.
  ImageView<const Byte> sample(ImageView<const Byte> rgb, int left, int top, int rows, int cols,
                               int block) noexcept;

  /// Shows the last window as it would be without a change of light.
  void take_back(const LightChange& change) noexcept { change.take_back(room_.view().data, rows_ * cols_); }

  /// The cells' mean colours: rows x columns x 3; holds until the next look.
  [[nodiscard]] ImageView<const Byte> cells() const noexcept {
    return {room_.view().data, rows_, cols_, 3, static_cast<std::ptrdiff_t>(cols_) * 3};
  }
  /// The first pixel's column.
  [[nodiscard]] int left() const noexcept { return left_; }
  /// The first pixel's row.
  [[nodiscard]] int top() const noexcept { return top_; }
  /// Pixels along a cell's side.
  [[nodiscard]] int block() const noexcept { return block_; }

 private:
  int left_ = 0;
  int top_ = 0;
  int block_ = 1;
  int rows_ = 0;
  int cols_ = 0;
  std::vector<Byte> line_;           // a row of pixels under the window
  std::vector<std::uint16_t> sums_;  // of a row of blocks, pixel column by pixel column
  Image<Byte> room_;
};

}  // namespace mnemon
