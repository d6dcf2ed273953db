// SPDX-License-Identifier: MIT
#pragma once
#include <array>

#include <mnemon/track/mask/cell_samples.hpp>

namespace mnemon {

/// By how much place, in cells of an appearance, size, turn, stretch and light of what is seen differ from it; size and
/// stretch as logarithms.
struct PoseStep {
  double x = 0, y = 0, grown = 0, turned = 0, stretched = 0, light = 0;  ///< As above.
};

/// The least squares step of a fit of an appearance to what is seen, where cells that differ much count little. Size and
/// stretch are held a little to where the fit started, or a target that goes behind something would be taken to shrink to
/// what is left of it. Allocates nothing once made.
class NormalEquations {
 public:
  NormalEquations() = default;
  /// For appearances of that shape.
  NormalEquations(int rows, int cols);

  /// Takes the slopes of an appearance, and what each of its cells counts: not more than it is visible, in [0, 1]; null
  /// for all.
  void start(const Appearance& appearance, const CellPlane* visible) noexcept;

  /// The step from where what is seen is by `light` lighter, and size and stretch have changed by `grown` and `stretched`,
  /// logarithms, since the fit started.
  [[nodiscard]] PoseStep solve(const CellSamples& seen, const Appearance& appearance, double light,
                               double grown, double stretched) noexcept;

 private:
  std::array<CellPlane, kPatchChannels> across_, down_;  // slopes
  CellPlane counts_;                                     // of light and opponents
  CellPlane likelihood_counts_;
  CellPlane all_;  // where all of it is visible

  // Of slopes across (a), slopes down (b) and differences (d), each weighted; those of light alone with their weights (w).
  struct Products {
    CellPlane aa, ab, bb, ad, bd;
    CellPlane w, wd, wa, wb;
  };
  Products products_;
};

}  // namespace mnemon
