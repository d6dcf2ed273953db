// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Sums over boxes of a picture, each in the same few steps: a running sum of all above and left of a place.
/// Allocates nothing once made. Source: Crow 1984, summed-area tables.
class BoxSums {
 public:
  BoxSums() = default;
  /// \param most_rows, most_cols  Of any picture.
  BoxSums(int most_rows, int most_cols) : sums_(most_rows + 1, most_cols + 1) {}

  /// Takes a picture of one channel.
  void add_up(ImageView<const float> values) noexcept;

  /// The mean over columns [left, right) and rows [top, bottom), which are within the picture and not empty.
  [[nodiscard]] double mean_in(int left, int top, int right, int bottom) const noexcept;

  /// That mean less the one over a frame around the box, half as wide as the box on each side, where it is in the
  /// picture.
  [[nodiscard]] double contrast(int left, int top, int cols, int rows) const noexcept;

 private:
  Image<float> sums_;
  int rows_ = 0;
  int cols_ = 0;
};

}  // namespace mnemon
