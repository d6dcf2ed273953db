// SPDX-License-Identifier: MIT
#include <mnemon/vision/pieces.hpp>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <numbers>

#include <mnemon/geometry/polygon.hpp>

namespace mnemon {
namespace {

// Sums of 0 + 1 + ... and of their squares over columns [first, end).
double sum_of_columns(double first, double end) noexcept { return (end - first) * (first + end) / 2; }
double sum_of_squares(double first, double end) noexcept {
  return (end * end * end - first * first * first) / 3;  // the integral: each bit is a unit square
}

}  // namespace

Ellipse ellipse_of(const Piece& piece) noexcept {
  const double mean = (piece.xx + piece.yy) / 2;
  const double apart = std::hypot((piece.xx - piece.yy) / 2, piece.xy);
  const double angle = 0.5 * std::atan2(2 * piece.xy, piece.xx - piece.yy);
  // A filled ellipse's second moment along an axis is a quarter of its half axis squared.
  return {piece.middle, 2 * std::sqrt(mean + apart), 2 * std::sqrt(std::max(0.0, mean - apart)),
          folded_angle_deg(angle * 180 / std::numbers::pi)};
}

PieceFinder::PieceFinder(int most_rows, int most_cols) {
  const auto most_runs = static_cast<std::size_t>(most_rows) * ((most_cols + 1) / 2);
  runs_.reserve(most_runs);
  root_.reserve(most_runs);
  piece_of_.resize(most_runs);
  last_run_.reserve(most_runs);
  pieces_.reserve(most_runs);
  points_.resize(static_cast<std::size_t>(most_rows) * 4);
  hull_.resize(points_.size() + 1);
}

std::span<const Piece> PieceFinder::find(const BitMask& mask) noexcept {
  gather_runs(mask, true);
  sum_pieces();
  return pieces_;
}

void PieceFinder::gather_runs(const BitMask& mask, bool corners_touch) noexcept {
  runs_.clear();
  root_.clear();
  row_first_ = 0;
  for (int r = 0; r < mask.rows(); ++r) {
    above_ = row_first_;
    row_first_ = runs_.size();
    mask.for_each_run(r, [&](int first, int end) { add_run({r, first, end, -1}, corners_touch); });
  }
}

// Both rows' runs are in order, so that each is passed once.
void PieceFinder::add_run(Run run, bool corners_touch) noexcept {
  const auto at = static_cast<std::int32_t>(runs_.size());
  runs_.push_back(run);
  root_.push_back(at);
  const int reach = corners_touch ? 1 : 0;
  while (above_ < row_first_ && runs_[above_].end + reach <= run.first) ++above_;
  for (std::size_t i = above_; i < row_first_ && runs_[i].first < run.end + reach; ++i) {
    const std::int32_t a = root_of(static_cast<std::int32_t>(i));
    const std::int32_t b = root_of(at);
    root_[std::max(a, b)] = std::min(a, b);
  }
}

std::int32_t PieceFinder::root_of(std::int32_t run) noexcept {
  while (root_[run] != run) {
    root_[run] = root_[root_[run]];
    run = root_[run];
  }
  return run;
}

void PieceFinder::sum_pieces() noexcept {
  pieces_.clear();
  last_run_.clear();
  for (std::int32_t i = 0; i < static_cast<std::int32_t>(runs_.size()); ++i) {
    const Run& run = runs_[i];
    const std::int32_t root = root_of(i);
    if (root == i) {
      piece_of_[i] = static_cast<std::int32_t>(pieces_.size());
      pieces_.push_back({0, run.first, run.row, run.end, run.row + 1, {}, 0, 0, 0, i});
      last_run_.push_back(i);
    }
    const std::int32_t index = piece_of_[root];
    Piece& piece = pieces_[index];
    if (root != i) {
      runs_[last_run_[index]].next = i;
      last_run_[index] = i;
    }
    piece.left = std::min(piece.left, run.first);
    piece.right = std::max(piece.right, run.end);
    piece.bottom = std::max(piece.bottom, run.row + 1);
    const double y = run.row + 0.5;
    const double length = run.end - run.first;
    const double x = sum_of_columns(run.first, run.end);
    piece.area += run.end - run.first;
    piece.middle.x += x;
    piece.middle.y += length * y;
    piece.xx += sum_of_squares(run.first, run.end);
    piece.xy += x * y;
    piece.yy += length * (y * y + 1.0 / 12);
  }
  for (Piece& piece : pieces_) {
    piece.middle = {piece.middle.x / piece.area, piece.middle.y / piece.area};
    piece.xx = piece.xx / piece.area - piece.middle.x * piece.middle.x;
    piece.xy = piece.xy / piece.area - piece.middle.x * piece.middle.y;
    piece.yy = piece.yy / piece.area - piece.middle.y * piece.middle.y;
  }
}

// About a common middle moments are those about each piece's own, and its middle's.
const Piece& PieceFinder::join() noexcept {
  Piece all = pieces_.front();
  all.area = 0;
  all.middle = {};
  all.first_run = 0;
  for (const Piece& piece : pieces_) {
    all.left = std::min(all.left, piece.left);
    all.right = std::max(all.right, piece.right);
    all.top = std::min(all.top, piece.top);
    all.bottom = std::max(all.bottom, piece.bottom);
    all.area += piece.area;
    all.middle.x += piece.area * piece.middle.x;
    all.middle.y += piece.area * piece.middle.y;
  }
  all.middle = {all.middle.x / all.area, all.middle.y / all.area};
  all.xx = all.xy = all.yy = 0;
  for (const Piece& piece : pieces_) {
    const double share = 1.0 * piece.area / all.area;
    const double x = piece.middle.x - all.middle.x;
    const double y = piece.middle.y - all.middle.y;
    all.xx += share * (piece.xx + x * x);
    all.xy += share * (piece.xy + x * y);
    all.yy += share * (piece.yy + y * y);
  }
  for (std::size_t i = 0; i < runs_.size(); ++i)
    runs_[i].next = i + 1 < runs_.size() ? static_cast<std::int32_t>(i + 1) : -1;
  pieces_.assign(1, all);
  return pieces_.front();
}

std::span<const Point> PieceFinder::hull_of(const Piece& piece) noexcept {
  // Of each row only the outermost bits can be corners of the hull.
  std::size_t count = 0;
  const auto add_row = [&](int row, int left, int right) {
    for (const double y : {double(row), row + 1.0})
      for (const double x : {double(left), double(right)}) points_[count++] = {x, y};
  };
  int row = piece.top;
  int left = piece.right;
  int right = piece.left;
  for_each_run(piece, [&](const Run& run) {
    if (run.row != row) {
      add_row(row, left, right);
      row = run.row;
      left = piece.right;
      right = piece.left;
    }
    left = std::min(left, run.first);
    right = std::max(right, run.end);
  });
  add_row(row, left, right);
  return std::span(hull_).first(convex_hull_into(std::span(points_).first(count), hull_));
}

OrientedBox PieceFinder::turned_box(const Piece& piece) noexcept {
  constexpr double kLonger = 1.2;
  const std::span<const Point> hull = hull_of(piece);
  const Ellipse ellipse = ellipse_of(piece);
  return ellipse.half_w >= kLonger * ellipse.half_h ? box_at_angle(hull, ellipse.angle_deg)
                                                    : tightest_box_of_hull(hull);
}

PieceForm PieceFinder::form_of(const Piece& piece) noexcept {
  const std::span<const Point> hull = hull_of(piece);
  PieceForm form;
  form.tightest = tightest_box_of_hull(hull);
  form.rectangularity = piece.area / (form.tightest.box.w * form.tightest.box.h);
  form.solidity = piece.area / std::abs(signed_area(hull));
  form.circularity = std::min(1.0, piece.area / (2 * std::numbers::pi * (piece.xx + piece.yy)));
  return form;
}

void PieceFinder::draw_into(const Piece& piece, BitMask& mask) const noexcept {
  for_each_run(piece, [&](const Run& run) { mask.set_run(run.row, run.first, run.end); });
}

// Clear bits hang together by their sides alone where set ones do so by their corners.
void PieceFinder::fill_holes(BitMask& mask) noexcept {
  mask.flip();
  gather_runs(mask, false);
  sum_pieces();
  mask.flip();
  for (const Piece& piece : pieces_) {
    const bool at_border =
        piece.left == 0 || piece.top == 0 || piece.right == mask.cols() || piece.bottom == mask.rows();
    if (!at_border) draw_into(piece, mask);
  }
}

}  // namespace mnemon
