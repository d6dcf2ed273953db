// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/patch_window.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/signal/stack_transform.hpp>

namespace mnemon {
namespace {

constexpr double kMostMagnified = 4;
constexpr int kFewestSamples = 8;

int samples(double length_px, double samples_a_px) {
  return fast_size(std::max(kFewestSamples, static_cast<int>(std::lround(length_px * samples_a_px))));
}

}  // namespace

PatchWindow::PatchWindow(double target_w, double target_h, double padding, int longest) {
  const double w = padding * target_w;
  const double h = padding * target_h;
  const double samples_a_px = std::min(longest / std::max(w, h), kMostMagnified);
  rows_ = samples(h, samples_a_px);
  cols_ = samples(w, samples_a_px);
  // Sizes that transform fast are a little off; the scale makes up for it, so that the window is what was
  // asked.
  px_a_row_ = h / rows_;
  px_a_col_ = w / cols_;
}

Box PatchWindow::around(Point middle) const noexcept { return box_around(middle, width_px(), height_px()); }

Point PatchWindow::motion(Cell cell, Point offset) const noexcept {
  const Cell rest = middle_cell();
  return {(cell.col - rest.col + offset.x) * px_a_col_, (cell.row - rest.row + offset.y) * px_a_row_};
}

}  // namespace mnemon
