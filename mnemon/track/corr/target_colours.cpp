// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_colours.hpp>

#include <algorithm>
#include <cmath>

namespace mnemon {
namespace {

constexpr double kAroundFrom = 1.2;  // surroundings begin here, in sizes of the target

}  // namespace

double PlaceInTarget::outermost() const noexcept { return std::max(std::abs(across), std::abs(down)); }

PlaceInTarget place_in_target(int r, int c, int rows, int cols, Point share) noexcept {
  return {(2 * (c + 0.5) / cols - 1) / share.x, (2 * (r + 0.5) / rows - 1) / share.y};
}

void learn_colours(ImageView<const ColourIndex> colours, Point share, double rate,
                   ColourModel& model) noexcept {
  for (int r = 0; r < colours.rows; r += 2)
    for (int c = r / 2 % 2; c < colours.cols; c += 2) {
      const PlaceInTarget place = place_in_target(r, c, colours.rows, colours.cols, share);
      const double squared = place.squared();
      if (squared < 1)
        model.count_target(colours(r, c), static_cast<float>(1 - squared));
      else if (place.outermost() > kAroundFrom)
        model.count_surroundings(colours(r, c));
    }
  model.learn(rate);
}

}  // namespace mnemon
