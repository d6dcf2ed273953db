// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Where cells of whole pixels lie in a frame: the first pixel, how many there are, and how large each is.
struct CellGrid {
  int left = 0, top = 0;
  int rows = 0, cols = 0;
  int block = 1;  ///< Pixels along a cell's side.
};

/// A mask of a whole frame, drawn from labels of cells. Only what was drawn last is cleared. Allocates nothing once made.
class FrameMask {
 public:
  FrameMask() = default;
  explicit FrameMask(FrameSize size) : pixels_(size.height, size.width) {}

  [[nodiscard]] ImageView<const Byte> pixels() const noexcept { return pixels_.view(); }

  /// Takes the target out of it.
  void clear() noexcept {
    for (int y = top_; y < bottom_; ++y)
      std::fill(pixels_.view().row(y) + left_, pixels_.view().row(y) + right_, Byte{0});
    top_ = bottom_ = 0;
  }

  /// Draws anew, 1 in the pixels of each cell for which is_target(row, column) holds.
  template <class IsTarget>
  void draw(const CellGrid& grid, IsTarget is_target) noexcept {
    clear();
    left_ = std::clamp(grid.left, 0, pixels_.cols());
    top_ = std::clamp(grid.top, 0, pixels_.rows());
    right_ = std::clamp(grid.left + grid.cols * grid.block, left_, pixels_.cols());
    bottom_ = std::clamp(grid.top + grid.rows * grid.block, top_, pixels_.rows());
    for (int y = top_; y < bottom_; ++y) {
      Byte* const row = pixels_.view().row(y);
      for (int c = 0; c < grid.cols; ++c) {
        if (!is_target((y - grid.top) / grid.block, c)) continue;
        const int first = std::clamp(grid.left + c * grid.block, left_, right_);
        const int end = std::clamp(grid.left + (c + 1) * grid.block, left_, right_);
        std::fill(row + first, row + end, Byte{1});
      }
    }
  }

 private:
  Image<Byte> pixels_;
  int left_ = 0, top_ = 0, right_ = 0, bottom_ = 0;  // of what is drawn
};

}  // namespace mnemon
