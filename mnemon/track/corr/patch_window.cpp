// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/patch_window.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/signal/pair_transform.hpp>

namespace mnemon {
namespace {

constexpr double kMostMagnified = 4;  // times: finer sampling of a small target only repeats its pixels

}  // namespace

PatchWindow::PatchWindow(double target_w, double target_h, const WindowShape& shape) {
  const double margin = (shape.padding - 1) * std::sqrt(target_w * target_h) + shape.reach_px;
  width_px_ = target_w + margin;
  height_px_ = target_h + margin;
  const double cells_a_px =
      std::min(shape.side / std::sqrt(width_px_ * height_px_), kMostMagnified / shape.cell);
  rows_ = fast_side(height_px_ * cells_a_px, shape.single);
  cols_ = fast_side(width_px_ * cells_a_px, shape.single);
  share_ = {target_w / width_px_, target_h / height_px_};
}

double PatchWindow::target_cells() const noexcept { return std::sqrt(share_.x * cols_ * share_.y * rows_); }

OrientedBox PatchWindow::around(Point middle, double scale, double turn_deg) const noexcept {
  return {box_around(middle, width_px_ * scale, height_px_ * scale), turn_deg};
}

Point PatchWindow::motion(Cell cell, Point offset, double scale, double turn_deg) const noexcept {
  const Cell rest = middle_cell();
  return turned({(cell.col - rest.col + offset.x) * scale * width_px_ / cols_,
                 (cell.row - rest.row + offset.y) * scale * height_px_ / rows_},
                turn_deg);
}

}  // namespace mnemon
