// SPDX-License-Identifier: MIT
#include <mnemon/vision/picture_search.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

namespace mnemon {
namespace {

constexpr double kMostSamples = 16384;

}  // namespace

PictureSearch::PictureSearch(FrameSize size)
    : size_(size),
      step_(
          std::max(1, static_cast<int>(std::ceil(std::sqrt(1.0 * size.width * size.height / kMostSamples))))),
      colours_((size.height + step_ - 1) / step_, (size.width + step_ - 1) / step_),
      weights_((size.height + step_ - 1) / step_, (size.width + step_ - 1) / step_),
      sums_(weights_.rows(), weights_.cols()) {}

bool PictureSearch::LeftOut::holds(Point middle, double w, double h) const noexcept {
  for (int i = 0; i < std::min(count_, kMost); ++i)
    if (std::abs(places_[i].x - middle.x) < 0.5 * w && std::abs(places_[i].y - middle.y) < 0.5 * h)
      return true;
  return false;
}

PictureSearch::Place PictureSearch::find_but(const LeftOut& left_out, ImageView<const Byte> rgb,
                                             const float* table, double w, double h) noexcept {
  const Box all{0, 0, static_cast<double>(size_.width), static_cast<double>(size_.height)};
  const ImageView<const ColourIndex> colours = colours_.sample(rgb, {all});
  for (int r = 0; r < colours.rows; ++r)
    weigh_colours(colours.row(r), colours.cols, table, weights_.view().row(r));
  sums_.add_up(std::as_const(weights_).view());
  const double px_across = all.w / colours.cols;
  const double px_down = all.h / colours.rows;
  const int cols = std::clamp(static_cast<int>(std::lround(w / px_across)), 1, colours.cols);
  const int rows = std::clamp(static_cast<int>(std::lround(h / px_down)), 1, colours.rows);
  const auto middle_of = [&](int left, int top) {
    return Point{(left + 0.5 * cols) * px_across, (top + 0.5 * rows) * px_down};
  };
  constexpr double kNone = -1;
  const auto unless_left_out = [&](int left, int top, double contrast) {
    return left_out.holds(middle_of(left, top), w, h) ? kNone : contrast;
  };
  const BoxSums::Place best =
      sums_.best_place(cols, rows, sums_.all_places(cols, rows), {0, 0, kNone}, unless_left_out);
  return best.goodness > kNone ? Place{middle_of(best.left, best.top), best.goodness} : Place{};
}

}  // namespace mnemon
