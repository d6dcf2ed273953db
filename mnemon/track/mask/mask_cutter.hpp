// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <vector>

#include <mnemon/track/mask/appearance.hpp>
#include <mnemon/vision/minimum_cut.hpp>
#include <mnemon/vision/pieces.hpp>

namespace mnemon {

/// What a cell's label goes by.
struct CutRules {
  double colour_weight = 0.6;  ///< Of the logarithm of the colours' ratio.
  double shape_weight = 1;     ///< Of that of the shape's.
  double smoothness = 2.8;     ///< Cost of a border between cells that look alike.
};

/// A mask of a patch's cells.
struct CutMask {
  ImageView<const Byte> labels;  ///< 1 for the target, of the patch's shape; holds until the next cut.
  int area = 0;                  ///< Cells.
  Piece piece;                   ///< What is left of it, as one piece.
  double contrast = 0;           ///< Mean likelihood in it less that around it.
};

/// Cuts a target out of a patch: each cell's colour and place in the expected shape speak for or against it, borders
/// between cells that look alike cost, and a minimum cut weighs all at once. Allocates nothing once made.
/// Source: Boykov and Jolly, ICCV 2001; Rother, Kolmogorov and Blake 2004; the expected shape after Freedman and Zhang,
/// CVPR 2005.
class MaskCutter {
 public:
  MaskCutter() : MaskCutter(CutRules{}) {}
  /// Takes the memory for any patch at once.
  explicit MaskCutter(const CutRules& rules);

  /// Goes on by other rules.
  void retune(const CutRules& rules) noexcept { rules_ = rules; }

  /// Whether of a mask in several pieces all are left that are expected or marked, and not only the most expected.
  void keep_pieces(bool all) noexcept { keeps_pieces_ = all; }

  /// The target at a pose. Cells of the appearance are only expected as far as they are `visible`; null for all.
  /// `must`, of the patch's shape, says which cells are the target (CutProblem::kTarget) or not (kAround) whatever
  /// they look like; empty for none.
  CutMask cut(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
              const CellPlane* visible = nullptr, ImageView<const Byte> must = {}) noexcept;

  /// The problem of the last cut.
  [[nodiscard]] CutProblem problem() const noexcept;
  /// That the last mask's pieces are of.
  [[nodiscard]] PieceFinder& pieces() noexcept { return finder_; }

 private:
  void weigh_cells(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                   const CellPlane* visible) noexcept;
  void mark(ImageView<const Byte> must) noexcept;
  void weigh_borders(const TargetPatch& patch) noexcept;
  [[nodiscard]] double expected_in(const Piece& piece) const noexcept;
  [[nodiscard]] const Piece* most_expected(std::span<const Piece> pieces) const noexcept;
  void keep_expected(CutMask& mask) noexcept;
  void judge(const TargetPatch& patch, CutMask& mask) const noexcept;

  CutRules rules_;
  bool keeps_pieces_ = false;
  std::vector<float> by_colour_;  // logarithms
  std::vector<float> by_shape_;
  int rows_ = 0;
  int cols_ = 0;
  Image<std::int32_t> gain_, right_, down_;
  Image<float> across_, below_;  // squared differences of neighbours
  Image<float> expected_;        // the shape at the pose
  std::vector<float> inside_;    // of a row: 1 for cells in the picture
  Image<Byte> labels_, fixed_;
  MinimumCut solver_;
  BitMask bits_, kept_;
  PieceFinder finder_;
};

}  // namespace mnemon
