// SPDX-License-Identifier: MIT
#include <mnemon/track/kept_out.hpp>

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

constexpr Byte kGrey = 128;  // of an area that nothing is beside

void check(const Polygon& area) {
  if (area.size() < 3)
    throw CallError(
        fmt::format("an area to keep out has at least three corners, not {}; give x,y of each", area.size()));
  for (const Point corner : area)
    if (!std::isfinite(corner.x) || !std::isfinite(corner.y))
      throw CallError("an area to keep out has a corner that is not finite");
  const Box box = bounds(area);
  if (!(box.w > 0 && box.h > 0)) throw CallError("an area to keep out has its corners on a line");
}

}  // namespace

KeptOut::KeptOut(std::vector<Polygon> areas) : areas_(std::move(areas)) {
  for (const Polygon& area : areas_) check(area);
}

bool KeptOut::covers(Point place) const noexcept {
  return std::ranges::any_of(areas_, [&](const Polygon& area) { return contains(area, place); });
}

// The pixels whose middles lie in an area.
void KeptOut::find_runs(FrameSize size, double across, double down) {
  runs_.clear();
  for (std::size_t i = 0; i < areas_.size(); ++i) {
    const Box box = bounds(areas_[i]);
    const int left = static_cast<int>(std::clamp(std::floor(box.x * across), 0.0, 1.0 * size.width));
    const int right =
        static_cast<int>(std::clamp(std::ceil((box.x + box.w) * across), 0.0, 1.0 * size.width));
    const int top = static_cast<int>(std::clamp(std::floor(box.y * down), 0.0, 1.0 * size.height));
    const int bottom =
        static_cast<int>(std::clamp(std::ceil((box.y + box.h) * down), 0.0, 1.0 * size.height));
    for (int r = top; r < bottom; ++r) {
      bool goes_on = false;
      for (int c = left; c < right; ++c) {
        const bool inside = contains(areas_[i], {(c + 0.5) / across, (r + 0.5) / down});
        if (inside && goes_on) runs_.back().end = c + 1;
        if (inside && !goes_on) runs_.push_back({r, c, c + 1, i});
        goes_on = inside;
      }
    }
  }
}

void KeptOut::choose_colours(ImageView<const Byte> rgb, double across, double down) {
  std::vector<std::array<long, 4>> sums(areas_.size());
  for (const Run& run : runs_)
    for (const int c : {run.first - 1, run.end}) {
      if (c < 0 || c >= rgb.cols || covers({(c + 0.5) / across, (run.row + 0.5) / down})) continue;
      for (int k = 0; k < 3; ++k) sums[run.area][k] += rgb(run.row, c, k);
      ++sums[run.area][3];
    }
  colours_.assign(areas_.size(), {kGrey, kGrey, kGrey});
  for (std::size_t i = 0; i < sums.size(); ++i)
    if (sums[i][3] > 0)
      for (int k = 0; k < 3; ++k) colours_[i][k] = static_cast<Byte>(sums[i][k] / sums[i][3]);
}

void KeptOut::paint(ImageView<Byte> rgb, double across, double down) {
  const FrameSize size{rgb.cols, rgb.rows};
  if (size != size_) {
    find_runs(size, across, down);
    choose_colours(rgb, across, down);
    size_ = size;
  }
  for (const Run& run : runs_)
    for (int c = run.first; c < run.end; ++c)
      std::ranges::copy(colours_[run.area], rgb.row(run.row) + 3 * static_cast<std::ptrdiff_t>(c));
}

}  // namespace mnemon
