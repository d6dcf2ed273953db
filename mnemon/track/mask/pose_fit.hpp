// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/mask/normal_equations.hpp>
#include <mnemon/track/mask/place_search.hpp>

namespace mnemon {

/// A pose and how alike the patch is there to what was looked for.
struct FittedPose {
  TargetPose pose;      ///< The one that fits best.
  double likeness = 0;  ///< In [0, 1], 1 where nothing differs.
};

/// Finds where in a patch something of known appearance lies. First the place, by comparing at all places of a coarse
/// grid; then place, size and turn together, by least squares on the differences, where what differs much counts
/// little. Allocates nothing once made.
/// Source: Baker and Matthews, IJCV 2004, section 3.2 (inverse compositional); Lucas and Kanade 1981.
class PoseFit {
 public:
  PoseFit() = default;
  /// For appearances of that shape.
  PoseFit(int rows, int cols) : equations_(rows, cols), start_(rows, cols), end_(rows, cols) {}

  /// The place of something of the size and turn of `from`, as far as `reach_px` around it.
  [[nodiscard]] TargetPose find_place(const TargetPatch& patch, const Appearance& appearance,
                                      const TargetPose& from, double reach_px) noexcept;

  /// The pose near `from`, in a patch that is mixed. Cells that are not `visible`, in [0, 1], do not count: what is left of
  /// a target would else be taken for all of it. Null for all.
  [[nodiscard]] FittedPose refine(const TargetPatch& patch, const Appearance& appearance,
                                  const TargetPose& from, const CellPlane* visible) noexcept;

  /// Takes a pose as it is, in a patch that is mixed.
  void take(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose) noexcept {
    start_.take(patch, appearance, pose);
    keeps_start_ = true;
  }

  /// What the patch shows at the pose refined or taken last.
  [[nodiscard]] const CellSamples& seen() const noexcept { return keeps_start_ ? start_ : end_; }

  /// How much worse each place of the last coarse search was, from 0 on; its middle is where the search was around.
  [[nodiscard]] ImageView<const float> differences() const noexcept { return search_.differences(); }

 private:
  PlaceSearch search_;
  NormalEquations equations_;
  CellSamples start_;
  CellSamples end_;
  bool keeps_start_ = false;
};

}  // namespace mnemon
