// SPDX-License-Identifier: MIT
#include <mnemon/vision/picture_search.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

constexpr double kMostSamples = 16384;

}  // namespace

PictureSearch::PictureSearch(FrameSize size)
    : size_(size),
      step_(
          std::max(1, static_cast<int>(std::ceil(std::sqrt(1.0 * size.width * size.height / kMostSamples))))),
      colours_((size.height + step_ - 1) / step_, (size.width + step_ - 1) / step_),
      sums_((size.height + step_ - 1) / step_ + 1, (size.width + step_ - 1) / step_ + 1) {}

void PictureSearch::start() noexcept { left_out_count_ = 0; }

void PictureSearch::leave_out(Point middle) noexcept { left_out_[left_out_count_++ % kLeftOut] = middle; }

bool PictureSearch::is_left_out(Point middle, double w, double h) const noexcept {
  for (int i = 0; i < std::min(left_out_count_, kLeftOut); ++i)
    if (std::abs(left_out_[i].x - middle.x) < 0.5 * w && std::abs(left_out_[i].y - middle.y) < 0.5 * h)
      return true;
  return false;
}

double PictureSearch::mean_in(int left, int top, int right, int bottom) const noexcept {
  const double sum =
      static_cast<double>(sums_(bottom, right)) - sums_(top, right) - sums_(bottom, left) + sums_(top, left);
  return sum / ((right - left) * (bottom - top));
}

PictureSearch::Place PictureSearch::find(ImageView<const Byte> rgb, const float* table, double w,
                                         double h) noexcept {
  const Box all{0, 0, static_cast<double>(size_.width), static_cast<double>(size_.height)};
  const ImageView<const ColourIndex> colours = colours_.sample(rgb, all);
  for (int r = 0; r < colours.rows; ++r) {
    float row = 0;
    for (int c = 0; c < colours.cols; ++c) {
      row += table[colours(r, c)];
      sums_(r + 1, c + 1) = sums_(r, c + 1) + row;
    }
  }
  const double px_across = all.w / colours.cols;
  const double px_down = all.h / colours.rows;
  const int cols = std::clamp(static_cast<int>(std::lround(w / px_across)), 1, colours.cols);
  const int rows = std::clamp(static_cast<int>(std::lround(h / px_down)), 1, colours.rows);
  Place best;
  for (int r = 0; r + rows <= colours.rows; ++r)
    for (int c = 0; c + cols <= colours.cols; ++c) {
      const double inside = mean_in(c, r, c + cols, r + rows);
      if (inside <= best.score) continue;  // what is around can only take away
      const int left = std::max(0, c - cols / 2);
      const int top = std::max(0, r - rows / 2);
      const int right = std::min(colours.cols, c + cols + cols / 2);
      const int bottom = std::min(colours.rows, r + rows + rows / 2);
      const double outer = (right - left) * (bottom - top);
      const double ring = outer - rows * cols;
      const double around =
          ring > 0 ? (mean_in(left, top, right, bottom) * outer - inside * rows * cols) / ring : 0;
      const Point middle{(c + 0.5 * cols) * px_across, (r + 0.5 * rows) * px_down};
      if (inside - around > best.score && !is_left_out(middle, w, h)) best = {middle, inside - around};
    }
  return best;
}

}  // namespace mnemon
