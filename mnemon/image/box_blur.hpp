// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Averages pictures of one channel over squares; beyond the edge its values again. Allocates nothing once made.
class BoxBlur {
 public:
  BoxBlur() = default;
  /// \param most_rows, most_cols  Of any picture.
  BoxBlur(int most_rows, int most_cols) : lines_(most_rows, most_cols) {}

  /// The mean over a square about each value; those on its edge count by how much of them it covers, so that it may be
  /// of any size. Up to 1 copies.
  /// \param width    Of the square, values.
  /// \param in, out  Of one shape, not overlapping.
  void blur_into(ImageView<const float> in, double width, ImageView<float> out) noexcept;

 private:
  Image<float> lines_;
};

}  // namespace mnemon
