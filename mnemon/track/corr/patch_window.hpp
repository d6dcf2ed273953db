// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/signal/peak.hpp>

namespace mnemon {

/// The window that a correlation filter looks through: a fixed number of samples over a stretch of the
/// picture around the target, which keeps the target's shape.
class PatchWindow {
 public:
  PatchWindow() = default;

  /// \param target_w, target_h  Size of the target, px.
  /// \param padding             Size of the window over that of the target, at least 1.
  /// \param longest             Samples along the longer side of the window, at least 8. Small targets are
  ///                            magnified at most four times to reach that.
  PatchWindow(double target_w, double target_h, double padding, int longest);

  [[nodiscard]] int rows() const noexcept { return rows_; }
  [[nodiscard]] int cols() const noexcept { return cols_; }
  [[nodiscard]] double width_px() const noexcept { return cols_ * px_a_col_; }
  [[nodiscard]] double height_px() const noexcept { return rows_ * px_a_row_; }

  /// The window with its middle there, px.
  [[nodiscard]] Box around(Point middle) const noexcept;

  /// The sample that stands for no motion.
  [[nodiscard]] Cell middle_cell() const noexcept { return {rows_ / 2, cols_ / 2}; }

  /// How far the target has moved, px, where the response peaks at `offset` samples from `cell`.
  [[nodiscard]] Point motion(Cell cell, Point offset) const noexcept;

 private:
  int rows_ = 0;
  int cols_ = 0;
  double px_a_row_ = 1;
  double px_a_col_ = 1;
};

}  // namespace mnemon
