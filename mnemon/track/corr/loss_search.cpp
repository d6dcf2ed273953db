// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/loss_search.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

int places_along(int length, double step) {
  return std::max(1, static_cast<int>(std::ceil(length / std::max(1.0, step))));
}

}  // namespace

LossSearch::LossSearch(FrameSize size, double step_w, double step_h) {
  const int cols = places_along(size.width, step_w);
  const int rows = places_along(size.height, step_h);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c)
      places_.push_back({(c + 0.5) * size.width / cols, (r + 0.5) * size.height / rows});
}

void LossSearch::start(Point from) {
  at_ = 0;
  const auto squared = [from](Point p) {
    return (p.x - from.x) * (p.x - from.x) + (p.y - from.y) * (p.y - from.y);
  };
  // Places equally far in a fixed order, so that the same run looks the same way twice.
  std::ranges::sort(places_, [&](Point a, Point b) {
    const double da = squared(a);
    const double db = squared(b);
    if (da != db) return da < db;
    return a.y != b.y ? a.y < b.y : a.x < b.x;
  });
}

Point LossSearch::next() noexcept {
  const Point place = places_[at_];
  at_ = (at_ + 1) % places_.size();
  return place;
}

}  // namespace mnemon
