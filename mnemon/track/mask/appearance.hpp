// SPDX-License-Identifier: MIT
#pragma once
#include <array>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/track/mask/cell_plane.hpp>
#include <mnemon/track/mask/target_patch.hpp>

namespace mnemon {

class CellSamples;

/// What a target looks like and how it is shaped, in cells about its middle as on the seed frame: four channels, and how
/// surely each cell is the target. The grid reaches beyond the target on all sides.
class Appearance {
 public:
  static constexpr double kMargin = 1.6;  ///< Size of the grid, in target sizes.
  static constexpr int kAcross = 24;      ///< Cells along the target's longer side at the most.

  Appearance() = default;
  /// \param w, h  Of the target, px, above 0.
  Appearance(double w, double h);

  /// Cells.
  [[nodiscard]] int rows() const noexcept { return shape_.rows(); }
  /// Cells.
  [[nodiscard]] int cols() const noexcept { return shape_.cols(); }
  /// Of a cell's side at scale 1, px.
  [[nodiscard]] double cell_px() const noexcept { return cell_px_; }
  /// Of a cell, from the target's middle, px at scale 1.
  [[nodiscard]] Point place_of(double r, double c) const noexcept {
    return {(c + 0.5 - 0.5 * cols()) * cell_px_, (r + 0.5 - 0.5 * rows()) * cell_px_};
  }
  /// Column and row of a place about the middle, where the first cell's middle is (0, 0).
  [[nodiscard]] Point cell_at(Point about_middle) const noexcept {
    return {about_middle.x / cell_px_ + 0.5 * cols() - 0.5, about_middle.y / cell_px_ + 0.5 * rows() - 0.5};
  }

  /// How surely a cell is the target, in [0, 1]. Rows are padded, of this and the channels.
  [[nodiscard]] ImageView<const float> shape() const noexcept { return shape_.view(); }
  /// Which cells are the target's, in [0, 1]: rows x columns.
  [[nodiscard]] ImageView<float> shape() noexcept { return shape_.view(); }
  /// What the target looks like, channel by channel: rows x columns.
  [[nodiscard]] ImageView<const float> channel(int k) const noexcept { return channels_[k].view(); }

  /// The sum of the shape: the target's area, in cells.
  [[nodiscard]] double area() const noexcept;

  /// Takes in what a patch shows at a pose, at rates from 0 to 1, given the samples taken of it there. Where a cell is not the
  /// target only its likelihood is of account. The mask is of the patch's cells, 1 for the target. Of cells that are not
  /// `visible`, in [0, 1], nothing is learnt; null for all.
  void learn(const CellSamples& seen, const TargetPatch& patch, ImageView<const Byte> mask,
             const TargetPose& pose, double appearance_rate, double shape_rate,
             const CellPlane* visible = nullptr) noexcept;

  /// Moves everything towards another appearance of the same target, at rates from 0 to 1.
  void draw_towards(const Appearance& other, double appearance_rate, double shape_rate) noexcept {
    blend_towards(other.shape_.all(), static_cast<float>(shape_rate), shape_.all());
    for (int k = 0; k < kPatchChannels; ++k)
      blend_towards(other.channels_[k].all(), static_cast<float>(appearance_rate), channels_[k].all());
  }

  /// Takes over another's contents, of the same target.
  void copy_from(const Appearance& other) noexcept;

 private:
  void learn_edge(const TargetPatch& patch, double x, double y, int r, int c, int first_channel,
                  float rate) noexcept;

  double cell_px_ = 1;
  CellPlane shape_;
  std::array<CellPlane, kPatchChannels> channels_;
};

}  // namespace mnemon
