// SPDX-License-Identifier: MIT
#pragma once
#include <functional>

#include <mnemon/track/confidence.hpp>
#include <mnemon/track/shift/colour_target.hpp>

namespace mnemon {

/// The round that trackers by mean shift go: shift from where the target was and from where its motion takes it, keep
/// the better, fit the ellipse, and learn what is there now, if it is surely the target. When the colours there do not
/// stand out as usual the target is reported as not present and nothing is learnt; after a few such frames the most
/// promising place of the whole picture is tried each frame.
class ShiftFollower {
 public:
  /// Fits the ellipse to the target after it was shifted.
  using Fit = std::function<void(ColourTarget& target, Ellipse& ellipse)>;

  /// Starts afresh.
  Estimate start(const Frame& frame, const Region& region, const Box& box, const ShiftRules& rules,
                 Fit fit = {});

  /// The estimate for the next frame. Allocates nothing.
  Estimate follow(const Frame& frame);

  /// The inner pictures of the last step: `back-projection`, and `path` with the last shift's places drawn in.
  [[nodiscard]] std::vector<Stage> stages();

  /// What the seed chose: the space of colours.
  [[nodiscard]] std::vector<SeedChoice> choices() const {
    return {{"space", kColourParts[static_cast<std::size_t>(target_.space())]}};
  }

  [[nodiscard]] const ColourTarget& target() const noexcept { return target_; }
  [[nodiscard]] const Ellipse& ellipse() const noexcept { return ellipse_; }

 private:
  struct Sighting {
    Ellipse ellipse;
    double confidence = -1;
  };
  [[nodiscard]] Sighting look(const Frame& frame, Ellipse from, Point forecast);
  [[nodiscard]] Sighting search(const Frame& frame);
  void hold(const Sighting& seen);
  [[nodiscard]] Estimate estimate(double confidence, bool present) const noexcept;

  Fit fit_;
  ColourTarget target_;
  Ellipse ellipse_;
  Point velocity_;
  int frames_lost_ = 0;
  Image<float> path_picture_;
};

/// Describes the members that parameter structs of trackers by mean shift share.
template <class P>
void describe_shift(auto& schema) {
  schema.field("window", &P::window, {1.2, 6.0}, "target sizes",
               "Size of the window that is back-projected; raising it follows faster motion, more coarsely.");
  schema.field(
      "reach_px", &P::reach_px, {0.0, 200.0}, "px",
      "Added to the window whatever the target's size; raising it helps small targets that move fast.");
  schema.field("max_shifts", &P::max_shifts, {1, 200}, "shifts",
               "Most shifts from one start; raising it lets the target be further away.");
  schema.field("min_shift_px", &P::min_shift_px, {0.001, 10.0}, "px",
               "Stops once a shift is shorter; raising it is faster and places less exactly.");
  schema.field("target_rate", &P::target_rate, {0.0, 1.0}, "",
               "Weight of the newest frame in the target's colours; raising it follows changing light and "
               "drifts sooner.");
  schema.field("around_rate", &P::around_rate, {0.0, 1.0}, "",
               "Weight of the newest frame in the surroundings' colours; raising it suits a moving camera.");
  describe_space<P>(schema);
  describe_confidence<P>(schema);
}

/// The rules that these members make.
template <class P>
[[nodiscard]] ShiftRules shift_rules_of(const P& p) {
  return {p.window,       p.reach_px,    p.max_shifts,      p.min_shift_px,
          p.target_rate,  p.around_rate, p.confidence_half, p.confidence_steepness,
          p.present_from, p.learn_from,  p.refind_from,     colour_parts(p.space)};
}

}  // namespace mnemon
