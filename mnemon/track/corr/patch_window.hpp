// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/signal/peak.hpp>

namespace mnemon {

/// How large a window to look through, and how finely.
struct WindowShape {
  double padding = 2;   ///< Size of the window over that of the target, for a square target, at least 1.
  double reach_px = 0;  ///< Added to both sides, px: how far small targets move does not shrink with them.
  int side = 32;        ///< Cells along the side of a square window.
  int cell = 4;         ///< Samples along a cell's side.
  bool single = false;  ///< Whether cells have a single channel, so that more sides transform fast.
};

/// The window that a correlation filter looks through: a fixed number of cells over a stretch of the picture around
/// the target. What it adds to the target is the same across and down, so that a long target sees as far sideways as
/// ahead. Its sides are sizes that transform fast; small targets are magnified at most four times to fill it.
class PatchWindow {
 public:
  PatchWindow() = default;

  /// For a target of that size, px.
  PatchWindow(double target_w, double target_h, const WindowShape& shape);

  [[nodiscard]] int rows() const noexcept { return rows_; }  ///< Cells.
  /// Samples or cells across.
  [[nodiscard]] int cols() const noexcept { return cols_; }
  /// At scale 1.
  [[nodiscard]] double width_px() const noexcept { return width_px_; }
  /// At scale 1.
  [[nodiscard]] double height_px() const noexcept { return height_px_; }

  /// The share of the window's sides that the target takes, each in (0, 1].
  [[nodiscard]] Point target_share() const noexcept { return share_; }

  /// The side of a square as large as the target, cells.
  [[nodiscard]] double target_cells() const noexcept;

  /// The window with its middle there, px, `scale` times as large as it was made, and turned.
  [[nodiscard]] OrientedBox around(Point middle, double scale = 1, double turn_deg = 0) const noexcept;

  /// The cell that stands for no motion.
  [[nodiscard]] Cell middle_cell() const noexcept { return {rows_ / 2, cols_ / 2}; }

  /// How far the target has moved, px, where the response peaks at `offset` cells from `cell`.
  [[nodiscard]] Point motion(Cell cell, Point offset, double scale = 1, double turn_deg = 0) const noexcept;

 private:
  int rows_ = 0;
  int cols_ = 0;
  double width_px_ = 0;
  double height_px_ = 0;
  Point share_;
};

}  // namespace mnemon
