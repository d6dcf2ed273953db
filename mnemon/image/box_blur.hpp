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

  /// The mean over (2 radius + 1) x (2 radius + 1) values about each; radius 0 copies.
  /// \param radius  0 or more.
  /// \param in, out  Of one shape, not overlapping.
  void blur_into(ImageView<const float> in, int radius, ImageView<float> out) noexcept;

 private:
  Image<float> lines_;
};

}  // namespace mnemon
