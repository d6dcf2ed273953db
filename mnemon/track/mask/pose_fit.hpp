// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <vector>

#include <mnemon/track/mask/appearance.hpp>

namespace mnemon {

/// A pose and how alike the patch is there to what was looked for.
struct FittedPose {
  TargetPose pose;
  double likeness = 0;  ///< In [0, 1], 1 where nothing differs.
};

/// Finds where in a patch something of known appearance lies. First the place, by comparing at all places of a coarse
/// grid; then place, size and turn together, by least squares on the differences, where what differs much counts
/// little. Allocates nothing once made.
/// Source: Baker and Matthews, IJCV 2004, section 3.2 (inverse compositional); Lucas and Kanade 1981.
class PoseFit {
 public:
  PoseFit();

  /// The pose near `from`, its place looked for as far as `reach_px` around it. Cells that are not `visible`, in [0, 1],
  /// do not count in the second part: what is left of a target would else be taken for all of it. Empty for all.
  [[nodiscard]] FittedPose find(const TargetPatch& patch, const Appearance& appearance,
                                const TargetPose& from, double reach_px,
                                ImageView<const float> visible) noexcept;

  /// How much worse each place of the last coarse search was, from 0 on; its middle is where the search was around.
  [[nodiscard]] ImageView<const float> differences() const noexcept { return differences_; }

 private:
  struct CoarseCell {
    int row, col;
    float weight;         // of light and opponents
    float of_likelihood;  // of the likelihood
    std::array<float, kPatchChannels> value;
  };
  struct SlopeCell {
    std::array<float, kPatchChannels> value, across, down, counts;
  };
  // By how much a cell's place and light are to change, in cells of the appearance.
  struct Step {
    double x, y, grown, turned, stretched, light;
  };
  [[nodiscard]] FittedPose refine(const TargetPatch& patch, const Appearance& appearance,
                                  const TargetPose& from, ImageView<const float> visible) noexcept;
  void take_slopes(const Appearance& appearance, ImageView<const float> visible) noexcept;
  void mix_channels(const TargetPatch& patch) noexcept;
  [[nodiscard]] Step step_from(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                               const TargetPose& pose, double light) const noexcept;
  void shrink(const TargetPatch& patch, int factor) noexcept;
  void render(const Appearance& appearance, const TargetPose& from, double coarse_px) noexcept;
  void compare_places(int at_row, int at_col, int reach, ImageView<float> sums,
                      ImageView<float> light) noexcept;
  void rank_places(int reach, double size, ImageView<float> sums,
                   ImageView<const float> light) const noexcept;
  [[nodiscard]] Point search(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                             double reach_px) noexcept;

  std::array<Image<float>, kPatchChannels> coarse_;
  int coarse_rows_ = 0;
  int coarse_cols_ = 0;
  std::vector<CoarseCell> cells_;
  std::vector<SlopeCell> slopes_;  // of the appearance that is fitted
  Image<float> mixed_;             // the patch, its channels side by side
  Image<float> sums_;
  Image<float> light_;
  ImageView<const float> differences_;
};

}  // namespace mnemon
