// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Sums of weights over upright ellipses of a picture, in a step a row: running sums along rows. Places are in cells,
/// of which the first covers [0, 1). Allocates nothing once made.
class EllipseSums {
 public:
  EllipseSums() = default;
  /// \param most_rows, most_cols  Of any picture.
  EllipseSums(int most_rows, int most_cols)
      : sums_(most_rows, most_cols + 1), moments_(most_rows, most_cols + 1) {}

  /// Takes a picture of one channel.
  void add_up(ImageView<const float> weights) noexcept;

  /// What an ellipse holds; its turn is left out.
  struct Sum {
    double mass = 0;   ///< Sum of the weights.
    double count = 0;  ///< Cells.
    Point middle;      ///< Mean place of the weights, the ellipse's where there are none.
  };
  /// Over what lies in the ellipse, cells.
  [[nodiscard]] Sum in(const Ellipse& ellipse) const noexcept;

 private:
  template <int kRows>
  void add_rows(ImageView<const float> weights, int first) noexcept;

  Image<float> sums_;
  Image<float> moments_;  // of columns
  int rows_ = 0;
  int cols_ = 0;
};

}  // namespace mnemon
