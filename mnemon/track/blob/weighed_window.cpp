// SPDX-License-Identifier: MIT
#include <mnemon/track/blob/weighed_window.hpp>

#include <algorithm>
#include <array>
#include <cmath>

namespace mnemon {
namespace {

constexpr double kLeastSeen = 0.25;     // share of a box, that what is seen of it is taken to stand for all
constexpr double kClimbMargin = 0.002;  // of the sum, that a change of size must gain
constexpr int kShifts = 3;              // moves: few, as a box should go no further than its weights overlap
constexpr double kNowhere = -1e9;       // goodness of a place that is not to be taken

struct CellBox {
  int left, top, right, bottom;
};

// Whole cells of the window, at least one.
CellBox rounded(const Box& box, ImageView<const float> weights) noexcept {
  const int left = std::clamp(static_cast<int>(std::lround(box.x)), 0, weights.cols - 1);
  const int top = std::clamp(static_cast<int>(std::lround(box.y)), 0, weights.rows - 1);
  return {left, top, std::clamp(static_cast<int>(std::lround(box.x + box.w)), left + 1, weights.cols),
          std::clamp(static_cast<int>(std::lround(box.y + box.h)), top + 1, weights.rows)};
}

// What lies beyond the picture's edge speaks neither for the target nor against it.
void leave_out_beyond(const Box& picture, float neutral, ImageView<float> weights) noexcept {
  const CellBox within = rounded(picture, weights);
  for (int r = 0; r < weights.rows; ++r) {
    const bool is_within = r >= within.top && r < within.bottom;
    std::fill(weights.row(r), weights.row(r) + (is_within ? within.left : weights.cols), neutral);
    std::fill(weights.row(r) + within.right, weights.row(r) + weights.cols, neutral);
  }
}

Ellipse ellipse_in(const Box& box) noexcept { return {centre(box), box.w / 2, box.h / 2}; }

}  // namespace

WeighedWindow::WeighedWindow(FrameSize size)
    : picture_{0, 0, 1.0 * size.width, 1.0 * size.height},
      smoothed_(kMostEvidenceSide, kMostEvidenceSide),
      blur_(kMostEvidenceSide, kMostEvidenceSide),
      sums_(kMostEvidenceSide, kMostEvidenceSide),
      ellipses_(kMostEvidenceSide, kMostEvidenceSide) {}

void WeighedWindow::take(const BlobEvidence& seen, double smooth, double neutral) noexcept {
  grid_ = seen.grid;
  rows_ = seen.weights.rows;
  cols_ = seen.weights.cols;
  const ImageView<float> smoothed{smoothed_.view().data, rows_, cols_, 1, cols_};
  blur_.blur_into(seen.weights, smooth / grid_.block, smoothed);
  leave_out_beyond(picture(), std::min(static_cast<float>(neutral), grid_.level), smoothed);
  sums_.add_up(weights());
  ellipses_.add_up(weights());
}

Box WeighedWindow::in_cells(const Box& box) const noexcept {
  const double block = grid_.block;
  return {(box.x - grid_.left) / block, (box.y - grid_.top) / block, box.w / block, box.h / block};
}

Box WeighedWindow::in_pixels(const Box& box) const noexcept {
  const double block = grid_.block;
  return {box.x * block + grid_.left, box.y * block + grid_.top, box.w * block, box.h * block};
}

double WeighedWindow::mean_in(const Box& box) const noexcept {
  const CellBox cells = rounded(box, weights());
  return sums_.mean_in(cells.left, cells.top, cells.right, cells.bottom);
}

double WeighedWindow::contrast_of(const Box& box) const noexcept {
  const CellBox cells = rounded(box, weights());
  const double contrast =
      sums_.contrast(cells.left, cells.top, cells.right - cells.left, cells.bottom - cells.top);
  return contrast / std::max(kLeastSeen, seen_area(box) / (box.w * box.h));
}

Box WeighedWindow::best_near(const Box& at, double reach, double far_penalty,
                             const std::optional<Box>& other) const noexcept {
  const int cols = std::clamp(static_cast<int>(std::lround(at.w)), 1, cols_);
  const int rows = std::clamp(static_cast<int>(std::lround(at.h)), 1, rows_);
  const double size = std::max(at.w, at.h);
  const Point taken = other ? centre(*other) : Point{};
  const auto near = [&](int left, int top, double contrast) {
    const double x = left + 0.5 * cols - at.x - 0.5 * at.w;
    const double y = top + 0.5 * rows - at.y - 0.5 * at.h;
    const double squared = x * x + y * y;
    if (squared > reach * reach) return kNowhere;
    if (other && std::abs(left + 0.5 * cols - taken.x) < 0.5 * cols &&
        std::abs(top + 0.5 * rows - taken.y) < 0.5 * rows)
      return kNowhere;
    return contrast - far_penalty * squared / (size * size);
  };
  // Where it is expected comes first: few places are better than that one.
  const BoxSums::Places all = sums_.all_places(cols, rows);
  BoxSums::Place expected{
      std::clamp(static_cast<int>(std::lround(at.x + 0.5 * (at.w - cols))), 0, all.end_left - 1),
      std::clamp(static_cast<int>(std::lround(at.y + 0.5 * (at.h - rows))), 0, all.end_top - 1), kNowhere};
  expected.goodness =
      near(expected.left, expected.top, sums_.contrast(expected.left, expected.top, cols, rows));
  const auto most = static_cast<int>(std::ceil(reach));
  const BoxSums::Places within{std::max(0, expected.left - most), std::max(0, expected.top - most),
                               std::min(all.end_left, expected.left + most + 1),
                               std::min(all.end_top, expected.top + most + 1)};
  const BoxSums::Place best = sums_.best_place(cols, rows, within, expected, near);
  if (best.goodness <= kNowhere) return at;
  return {best.left + 0.5 * (cols - at.w), best.top + 0.5 * (rows - at.h), at.w, at.h};
}

Box WeighedWindow::fitted(const Box& from, double most_growth, double neutral) const noexcept {
  constexpr std::array<Point, 6> kWays = {{{1, 1}, {-1, -1}, {1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
  const auto gain_of = [&](const Box& box) {
    const EllipseSums::Sum sum = ellipses_.in(ellipse_in(box));
    return sum.mass - neutral * sum.count;
  };
  Box best = from;
  double most = gain_of(best);
  for (const double step : {0.04, 0.02})
    for (bool climbs = true; climbs;) {
      climbs = false;
      for (const Point way : kWays) {
        const Box tried =
            box_around(centre(from), best.w * std::exp(step * way.x), best.h * std::exp(step * way.y));
        const double w = tried.w / from.w;
        const double h = tried.h / from.h;
        if (std::max({w, h, 1 / w, 1 / h}) > most_growth) continue;
        const double gain = gain_of(tried);
        if (!(gain > most + kClimbMargin * std::abs(most))) continue;
        most = gain;
        best = tried;
        climbs = true;
        break;
      }
    }
  return best;
}

Box WeighedWindow::shifted(Box box) const noexcept {
  for (int i = 0; i < kShifts; ++i) box = box_around(ellipses_.in(ellipse_in(box)).middle, box.w, box.h);
  return box;
}

}  // namespace mnemon
