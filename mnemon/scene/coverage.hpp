// SPDX-License-Identifier: MIT
#pragma once
#include <span>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// Which share of each pixel of a tile a shape covers, exactly, by summing the signed areas under its edges.
class CoverageTile {
 public:
  /// \param max_rows, max_cols  The largest tile, px.
  CoverageTile(int max_rows, int max_cols);

  /// Empties the tile and places it: its pixel (0, 0) is the picture's pixel (row, col). Sizes above the
  /// largest are cut to it.
  void place(int row, int col, int rows, int cols);

  /// Adds an outline that does not cross itself, in picture coordinates, either way round. What lies outside
  /// the tile is cut off.
  void add(std::span<const Point> outline);

  /// Ends adding: the covered shares, each in [0, 1], as rows x cols.
  [[nodiscard]] ImageView<const float> finish();

  /// Of the tile in the picture, its first.
  [[nodiscard]] int row() const noexcept { return row_; }
  /// Of the tile in the picture, its first.
  [[nodiscard]] int col() const noexcept { return col_; }

 private:
  void add_edge(Point from, Point to, double sign);
  void add_in_row(int row, double x0, double x1, double height);

  Image<float> area_;  // one column more than the largest tile, which takes what lies right of it
  int row_ = 0;
  int col_ = 0;
  int rows_ = 0;
  int cols_ = 0;
};

}  // namespace mnemon
