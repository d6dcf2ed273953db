// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/track/hold/hold_rules.hpp>
#include <mnemon/track/shift/back_projection.hpp>
#include <mnemon/track/tracker.hpp>
#include <mnemon/vision/colour_distribution.hpp>
#include <mnemon/vision/picture_search.hpp>

namespace mnemon {

/// What the trackers by mean shift go by: the parameters that they share.
struct ShiftRules : HoldRules {
  double window = 2.6;  ///< Of a long target up to twice as broad.
  double reach_px = 24;
  int max_shifts = 20;
  double min_shift_px = 0.1;
  double target_rate = 0.02;
  double around_rate = 0.05;
  std::string space = kPartsByTarget;

  static void describe(auto& schema) {
    using P = ShiftRules;
    schema.at_step().field(
        "window", &P::window, {1.2, 6.0}, "target sizes",
        "Size of the window that is back-projected; raising it follows faster motion, more coarsely.");
    schema.at_step().field(
        "reach_px", &P::reach_px, {0.0, 200.0}, "px",
        "Added to the window whatever the target's size; raising it helps small targets that move fast.");
    schema.at_step().field("max_shifts", &P::max_shifts, {1, 200}, "shifts",
                           "Most shifts from one start; raising it lets the target be further away.");
    schema.at_step().field("min_shift_px", &P::min_shift_px, {0.001, 10.0}, "px",
                           "Stops once a shift is shorter; raising it is faster and places less exactly.");
    schema.at_step().field(
        "target_rate", &P::target_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in the target's colours; raising it follows changing light and "
        "drifts sooner.");
    schema.at_step().field(
        "around_rate", &P::around_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in the surroundings' colours; raising it suits a moving camera.");
    describe_space<P>(schema);
    HoldRules::describe(schema);
  }
};

/// A target known by its colours: where in a window they are, how sure that is, and what of it is learnt. Trackers
/// move an ellipse over its back-projection. Allocates nothing after `start`.
class ColourTarget {
 public:
  /// Learns the colours in the region against those around it, in the space that tells them best apart.
  void start(const Frame& frame, const Region& region, const Box& box, const ShiftRules& rules);

  /// Goes on by other rules; the space of colours stays.
  void retune(const ShiftRules& rules);

  /// Back-projects a window around the ellipse.
  void look(const Frame& frame, const Ellipse& ellipse) noexcept;

  /// Moves the ellipse to the mean place of the weights in it, again and again, until it rests.
  /// Source: Comaniciu, Ramesh and Meer, TPAMI 2003, section 4; Bradski 1998.
  void shift(Ellipse& ellipse) noexcept;

  /// How sure it is that the ellipse holds the target, in [0, 1]: by how much its weights stand out from those around
  /// it, as a share of what they did while it was surely held.
  [[nodiscard]] double confidence(const Ellipse& ellipse) const noexcept;

  /// A weight midway between those usual in the target and around it.
  [[nodiscard]] double level() const noexcept { return usual_around_ + 0.5 * usual_contrast_; }

  /// The mean weight in the target less that around it while it was surely held, in [0, 1].
  [[nodiscard]] double usual_contrast() const noexcept { return usual_contrast_; }

  /// Takes the target as it is now into what is known of it: slowly, and not at all where it has changed at once.
  void learn(const Ellipse& ellipse) noexcept;

  /// The most promising place of the whole picture for a lost target.
  [[nodiscard]] Point search(const Frame& frame, const Ellipse& ellipse) noexcept;
  /// The picture is looked through afresh.
  void start_search() noexcept { search_.start(); }
  /// The search does not come to that place again soon.
  void leave_out(Point place) noexcept { search_.leave_out(place); }

  /// What of colours counts.
  [[nodiscard]] ColourParts space() const noexcept { return colours_.space().parts(); }
  /// Of the last look.
  [[nodiscard]] const BackProjection& back_projection() const noexcept { return back_; }
  /// That it goes by.
  [[nodiscard]] const ShiftRules& rules() const noexcept { return rules_; }

  /// Where the last shift went, from its start on.
  [[nodiscard]] const std::vector<Point>& path() const noexcept { return path_; }

 private:
  void count(const Ellipse& ellipse) noexcept;
  // Mean weights in the ellipse and around it.
  struct Densities {
    double inside = 0;
    double around = 0;
    [[nodiscard]] double contrast() const noexcept { return inside - around; }
  };
  [[nodiscard]] Densities densities(const Ellipse& ellipse) const noexcept;

  ShiftRules rules_;
  FrameSize size_;
  ColourDistribution colours_;
  BackProjection back_;
  PictureSearch search_;
  std::vector<Point> path_;
  double usual_contrast_ = 0;
  double usual_around_ = 0;
  double usual_likeness_ = 1;
};

/// The ellipse grown about its middle.
[[nodiscard]] Ellipse grown(const Ellipse& ellipse, double factor) noexcept;

/// The window as a picture with the path of the last shift drawn in: weights from 0 to 1, the path 2.
[[nodiscard]] Image<float> path_picture(const ColourTarget& target);

}  // namespace mnemon
