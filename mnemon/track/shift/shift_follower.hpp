// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/track/hold/hold_loop.hpp>
#include <mnemon/track/shift/colour_target.hpp>
#include <mnemon/track/shift/shape_fit.hpp>

namespace mnemon {

/// The round that trackers by mean shift go: shift from where the target was and from where its motion takes it, keep
/// the better, fit the ellipse, and learn what is there now, if it is surely the target. When the colours there do not
/// stand out as usual the target is reported as not present and nothing is learnt; after a few such frames the most
/// promising place of the whole picture is tried on two frames of three, and the place where it was on the third.
class ShiftFollower {
 public:
  /// Starts afresh. `shape` limits how the ellipse is fitted to the target after it was shifted; left out, its shape stays.
  Estimate start(const Frame& frame, const Region& region, const Box& box, const ShiftRules& rules,
                 const std::optional<ShapeFit::Limits>& shape = {});

  /// Goes on by other rules and within other limits; without limits the shape stays, as it did.
  void retune(const ShiftRules& rules, const std::optional<ShapeFit::Limits>& shape = {});

  /// The estimate for the next frame. Allocates nothing.
  Estimate follow(const Frame& frame);

  /// The inner pictures of the last step: `back-projection`, and `path` with the last shift's places drawn in.
  [[nodiscard]] std::vector<Stage> stages();
  /// What the last step looked at.
  [[nodiscard]] std::vector<Candidate> candidates() const { return candidates_of(loop_); }

  /// What the seed chose: the space of colours.
  [[nodiscard]] std::vector<SeedChoice> choices() const {
    return {{"space", kColourParts[static_cast<std::size_t>(target_.space())]}};
  }

 private:
  friend class HoldLoop;
  struct Seen : Sighting {
    Ellipse ellipse;
  };

  [[nodiscard]] Seen look(const Frame& frame);
  [[nodiscard]] Seen look_from(const Frame& frame, Ellipse from, Point forecast);
  [[nodiscard]] Seen look_beside(const Frame& /*frame*/) const { return {}; }  // there are no rivals
  [[nodiscard]] bool looks_elsewhere() const noexcept;
  void search(const Frame& frame, Seen& seen);
  [[nodiscard]] bool accept(const Frame& /*frame*/, const Seen& /*seen*/) const noexcept { return true; }
  void hold(const Frame& frame, const Seen& seen, bool learns);
  void miss(const Frame& frame);
  [[nodiscard]] Estimate estimate(const Held& held) const noexcept;

  HoldLoop loop_;
  std::optional<ShapeFit> shape_;
  ColourTarget target_;
  Ellipse ellipse_;
  Image<float> path_picture_;
};

}  // namespace mnemon
