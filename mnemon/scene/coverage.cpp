// SPDX-License-Identifier: MIT
#include <mnemon/scene/coverage.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <mnemon/geometry/polygon.hpp>

namespace mnemon {

CoverageTile::CoverageTile(int max_rows, int max_cols) : area_(max_rows, max_cols + 2) {}

void CoverageTile::place(int row, int col, int rows, int cols) {
  row_ = row;
  col_ = col;
  rows_ = std::clamp(rows, 0, area_.rows());
  cols_ = std::clamp(cols, 0, area_.cols() - 2);
  for (int r = 0; r < rows_; ++r) std::fill_n(area_.view().row(r), cols_ + 2, 0.0f);
}

void CoverageTile::add(std::span<const Point> outline) {
  const double sign = signed_area(outline) < 0 ? -1 : 1;
  for (std::size_t i = 0; i < outline.size(); ++i)
    add_edge(outline[i], outline[(i + 1) % outline.size()], sign);
}

// Every edge adds, in each row it crosses, the area between it and the right end of the row: downward edges
// take away, upward edges add, which leaves the inside of a clockwise outline.
void CoverageTile::add_edge(Point from, Point to, double sign) {
  from = {from.x - col_, from.y - row_};
  to = {to.x - col_, to.y - row_};
  if (from.y == to.y) return;
  if (from.y < to.y) sign = -sign;
  const Point top = from.y < to.y ? from : to;
  const Point bottom = from.y < to.y ? to : from;
  const double slope = (bottom.x - top.x) / (bottom.y - top.y);
  const int first = std::max(0, static_cast<int>(std::floor(top.y)));
  const int last = std::min(rows_ - 1, static_cast<int>(std::ceil(bottom.y)) - 1);
  for (int r = first; r <= last; ++r) {
    const double y0 = std::max<double>(r, top.y);
    const double y1 = std::min<double>(r + 1, bottom.y);
    if (y1 <= y0) continue;
    add_in_row(r, top.x + slope * (y0 - top.y), top.x + slope * (y1 - top.y), sign * (y1 - y0));
  }
}

// A piece of an edge within one row. `area_` holds differences: a running sum along the row gives the cover.
// What lies left or right of the tile runs straight down its side instead, which keeps every sum inside.
void CoverageTile::add_in_row(int row, double x0, double x1, double height) {
  float* area = area_.view().row(row);
  const double end = cols_;
  const auto straight = [&](double x, double h) {
    const int c = static_cast<int>(x);
    area[c] += static_cast<float>(h * (c + 1 - x));
    area[c + 1] += static_cast<float>(h * (x - c));
  };
  const double left = std::min(x0, x1);
  const double right = std::max(x0, x1);
  if (left == right || right <= 0 || left >= end) {
    straight(std::clamp(left, 0.0, end), height);
    return;
  }
  const double per_px = height / (right - left);
  if (left < 0) straight(0, -left * per_px);
  if (right > end) straight(end, (right - end) * per_px);
  const int last = static_cast<int>(std::ceil(std::min(right, end)));
  for (int c = static_cast<int>(std::max(left, 0.0)); c < last; ++c) {
    const double a = std::max<double>(left, c);
    const double b = std::min<double>(right, c + 1);
    straight((a + b) / 2, (b - a) * per_px);  // a slanted piece covers what one through its middle does
  }
}

ImageView<const float> CoverageTile::finish() {
  for (int r = 0; r < rows_; ++r) {
    float* row = area_.view().row(r);
    float sum = 0;
    for (int c = 0; c < cols_; ++c) {
      sum += row[c];
      row[c] = std::clamp(sum, 0.0f, 1.0f);
    }
  }
  ImageView<const float> tile = std::as_const(area_).view();
  tile.rows = rows_;
  tile.cols = cols_;
  return tile;
}

}  // namespace mnemon
