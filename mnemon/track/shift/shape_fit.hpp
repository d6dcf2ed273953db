// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/shift/colour_target.hpp>

namespace mnemon {

/// Size and turn of a target from its back-projection. The size is that of the ellipse with the largest sum of weights
/// less a level midway between those in the target and those around it: growing over a background of like colour costs,
/// and so does shrinking to the part whose colour is surest. The turn is that of the second moments of what is above
/// the level of the surroundings. A seeded box is rarely the ellipse that fits best, so that is fitted once to the
/// seed, and the box keeps its size and turn relative to it.
/// Source: moments for the turn as Bradski 1998, under a fading window that follows them, after Zivkovic and Kröse 2004.
class ShapeFit {
 public:
  /// How fast a shape may change.
  struct Limits {
    double most_growth = 1.1;  ///< Of a side in one frame, above 1.
    double turn_rate = 0.5;    ///< How much of a measured turn is taken, in (0, 1].
    bool turns = true;         ///< Whether the turn is followed.
  };

  ShapeFit() = default;

  /// Starts afresh from a target that was just started.
  ShapeFit(const ColourTarget& target, const Ellipse& ellipse, const Limits& limits);

  /// Goes on within other limits.
  void retune(const Limits& limits) noexcept { limits_ = limits; }

  /// Fits the ellipse to the target's weights.
  void fit(ColourTarget& target, Ellipse& ellipse) noexcept;

 private:
  // The turn of the axis along which the weights reach furthest, and how far from round they are, in [0, 1].
  struct Lie {
    double angle_deg = 0;
    double lengthy = 0;
  };
  [[nodiscard]] static Lie lie_of(const ColourTarget& target, const Ellipse& ellipse) noexcept;
  void size(const ColourTarget& target, Ellipse& ellipse, double most_growth) const noexcept;

  Limits limits_;
  Ellipse seed_;
  Lie seed_lie_;
  Point box_over_fit_{1, 1};  // sides of the seeded box over those of the ellipse fitted to it
};

}  // namespace mnemon
