// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/image/bit_mask.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon {

/// A mask of a whole frame, drawn from labels of cells. Only what was drawn last is cleared. Allocates nothing once made.
class FrameMask {
 public:
  FrameMask() = default;
  /// For frames of that size, with nothing in it.
  explicit FrameMask(FrameSize size) : pixels_(size.height, size.width) {}

  /// 1 for the target, of the frame's shape.
  [[nodiscard]] ImageView<const Byte> pixels() const noexcept { return pixels_.view(); }

  /// Takes the target out of it.
  void clear() noexcept {
    for (int y = top_; y < bottom_; ++y)
      std::fill(pixels_.view().row(y) + left_, pixels_.view().row(y) + right_, Byte{0});
    top_ = bottom_ = 0;
  }

  /// Draws anew, 1 in the pixels of each cell that is set. Cells are of `block` x `block` pixels, of which the first has
  /// its first pixel at (left, top).
  void draw(const BitMask& cells, int left, int top, int block) noexcept {
    clear();
    left_ = std::clamp(left, 0, pixels_.cols());
    top_ = std::clamp(top, 0, pixels_.rows());
    right_ = std::clamp(left + cells.cols() * block, left_, pixels_.cols());
    bottom_ = std::clamp(top + cells.rows() * block, top_, pixels_.rows());
    const auto column = [&](int c) { return std::clamp(left + c * block, left_, right_); };
    const auto line = [&](int r) { return std::clamp(top + r * block, top_, bottom_); };
    for (int r = 0; r < cells.rows(); ++r) {
      const int first_line = line(r);
      const int end_line = line(r + 1);
      if (first_line == end_line) continue;
      Byte* const row = pixels_.view().row(first_line);
      cells.for_each_run(
          r, [&](int first, int end) { std::fill(row + column(first), row + column(end), Byte{1}); });
      for (int y = first_line + 1; y < end_line; ++y)
        std::copy(row + left_, row + right_, pixels_.view().row(y) + left_);
    }
  }

 private:
  Image<Byte> pixels_;
  int left_ = 0, top_ = 0, right_ = 0, bottom_ = 0;  // of what is drawn
};

}  // namespace mnemon
