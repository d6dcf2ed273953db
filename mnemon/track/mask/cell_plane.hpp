// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <array>
#include <numeric>
#include <span>
#include <utility>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// Numbers that kernels over cells take at a time.
inline constexpr int kCellLanes = 16;

/// A sum over cells, gathered in so many parts.
using Parts = std::array<float, kCellLanes>;

[[nodiscard]] inline double sum_of(const Parts& parts) noexcept {
  return std::accumulate(parts.begin(), parts.end(), 0.0);
}

/// From row to row of cells: a multiple of kCellLanes, and at least one cell more than there are.
[[nodiscard]] constexpr int padded(int cols) noexcept { return (cols / kCellLanes + 1) * kCellLanes; }

/// A number a cell, with padded rows so that kernels go over all of it in one run. What pads them is 0 at first, and counts
/// nowhere: a target's shape is nothing there.
class CellPlane {
 public:
  CellPlane() = default;
  /// For that many cells.
  CellPlane(int rows, int cols) : padded_(rows, padded(cols)), cols_(cols) {}

  /// Cells.
  [[nodiscard]] int rows() const noexcept { return padded_.rows(); }
  /// Cells, without those that pad a row.
  [[nodiscard]] int cols() const noexcept { return cols_; }
  /// Without what pads the rows; holds as long as this does.
  [[nodiscard]] ImageView<float> view() noexcept {
    return {padded_.view().data, rows(), cols_, 1, padded_.cols()};
  }
  /// Without what pads the rows; holds as long as this does.
  [[nodiscard]] ImageView<const float> view() const noexcept {
    return {padded_.view().data, rows(), cols_, 1, padded_.cols()};
  }
  /// One cell.
  [[nodiscard]] float& operator()(int r, int c) noexcept { return view()(r, c); }
  /// One cell.
  [[nodiscard]] float operator()(int r, int c) const noexcept { return view()(r, c); }

  /// With the padding.
  [[nodiscard]] std::span<float> all() noexcept { return padded_.elements(); }
  /// With what pads the rows, in order.
  [[nodiscard]] std::span<const float> all() const noexcept { return padded_.elements(); }

  /// Takes over what another, of the same shape, holds.
  void copy_from(const CellPlane& other) noexcept { std::ranges::copy(other.all(), all().begin()); }

 private:
  Image<float> padded_;
  int cols_ = 0;
};

}  // namespace mnemon
