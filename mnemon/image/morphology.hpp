// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/bit_mask.hpp>

namespace mnemon {

/// Grows and shrinks masks by rectangles, many bits at a time. What lies outside a mask counts as clear when it grows
/// and as set when it shrinks, so that opening only takes away and closing only adds. Allocates nothing once made.
/// Source: Serra 1982, erosion and dilation; a rectangle is applied as a row and then a column, each by doubling.
class Morphology {
 public:
  Morphology() = default;
  /// \param most_rows, most_cols  Of any mask.
  Morphology(int most_rows, int most_cols) : work_(most_rows, most_cols) {}

  /// Sets every bit that has a set one within `radius` rows and columns; radius 0 or more.
  void dilate(BitMask& mask, int radius) noexcept;
  /// Keeps the bits that have only set ones within `radius` rows and columns.
  void erode(BitMask& mask, int radius) noexcept;
  /// Erodes, then dilates: what is narrower than the rectangle goes.
  void open(BitMask& mask, int radius) noexcept;
  /// Dilates, then erodes: gaps narrower than the rectangle are filled.
  void close(BitMask& mask, int radius) noexcept;

 private:
  BitMask work_;
};

}  // namespace mnemon
