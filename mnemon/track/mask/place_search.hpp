// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <cstdint>
#include <vector>

#include <mnemon/track/mask/appearance.hpp>

namespace mnemon {

/// Finds the place in a patch where something of known appearance lies, its size and turn given, by comparing at all
/// places of a coarse grid. Allocates nothing once made.
class PlaceSearch {
 public:
  PlaceSearch();

  /// The middle of the best place, to a part of a coarse cell, as far as `reach_px` around that of `from`.
  [[nodiscard]] Point find(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                           double reach_px) noexcept;

  /// How much worse each place of the last search was, from 0 on; its middle is where the search was around.
  [[nodiscard]] ImageView<const float> differences() const noexcept {
    return {sums_.view().data, places_, places_, 1, places_};
  }

  /// A cell of what is looked for; public for the kernels.
  struct CoarseCell {
    int row, col;                             ///< From the pose's middle.
    float weight;                             ///< Of light and opponents.
    std::array<float, kPatchChannels> value;  ///< Of the appearance there.
  };

 private:
  void shrink(const TargetPatch& patch, int factor) noexcept;
  void render(const Appearance& appearance, const TargetPose& from, double coarse_px) noexcept;
  [[nodiscard]] ImageView<float> sums() noexcept { return {sums_.view().data, places_, places_, 1, places_}; }
  void compare_places(int at_row, int at_col, int reach) noexcept;
  void rank_places(int reach, double size) noexcept;

  std::vector<Image<float>> coarse_{kPatchChannels};  // with its edge cells again on either side of a row
  int coarse_rows_ = 0;
  std::vector<float> line_;             // sums of columns of likelihoods
  std::vector<std::uint16_t> colours_;  // and of colours
  std::vector<CoarseCell> target_;      // cells
  std::vector<CoarseCell> around_;      // those that only their likelihood counts of
  Image<float> sums_;
  Image<float> light_;
  int places_ = 0;  // along a side, of those compared last
};

}  // namespace mnemon
