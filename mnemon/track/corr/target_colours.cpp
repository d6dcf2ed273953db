// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/target_colours.hpp>

namespace mnemon {
namespace {

constexpr double kAroundFrom = 1.2;  // surroundings begin here, in sizes of the target

}  // namespace

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
