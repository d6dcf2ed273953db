// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/box_blur.hpp>
#include <mnemon/image/frame.hpp>
#include <mnemon/track/blob/blob_evidence.hpp>
#include <mnemon/vision/box_sums.hpp>
#include <mnemon/vision/ellipse_sums.hpp>

namespace mnemon {

/// A window of evidence as it is measured: smoothed, and neutral beyond the picture's edge. Boxes are in its cells, of
/// which the first covers [0, 1), unless they are said to be in pixels. Allocates nothing once made.
class WeighedWindow {
 public:
  WeighedWindow() = default;
  /// For windows of up to kMostEvidenceSide cells a side.
  /// \param size  Of the frames.
  explicit WeighedWindow(FrameSize size);

  /// Takes a window.
  /// \param seen     Up to kMostEvidenceSide cells a side.
  /// \param smooth   Of the smoothing, px.
  /// \param neutral  The weight that speaks neither for the target nor against it. What lies beyond the picture has it,
  ///                 or the level of matching if that is lower: it does not match.
  void take(const BlobEvidence& seen, double smooth, double neutral) noexcept;

  /// Of its cells.
  [[nodiscard]] ImageView<const float> weights() const noexcept {
    return {smoothed_.view().data, rows_, cols_, 1, cols_};
  }
  /// Where its cells lie.
  [[nodiscard]] const CellGrid& grid() const noexcept { return grid_; }
  /// A box in pixels in cells.
  [[nodiscard]] Box in_cells(const Box& box) const noexcept;
  /// A box in cells in pixels.
  [[nodiscard]] Box in_pixels(const Box& box) const noexcept;
  /// All of the frame.
  [[nodiscard]] Box picture() const noexcept { return in_cells(picture_); }
  /// Of a box, what lies in the picture, cells.
  [[nodiscard]] double seen_area(const Box& box) const noexcept { return shared_area(box, picture()); }

  /// The mean weight in a box, which is rounded to whole cells of the window, at least one.
  [[nodiscard]] double mean_in(const Box& box) const noexcept;

  /// How much a box stands out: the mean weight in it less that around it. Beyond the picture's edge nothing stands out,
  /// so what is seen of the box stands for all.
  [[nodiscard]] double contrast_of(const Box& box) const noexcept;

  /// Where a box of a size stands out most.
  /// \param at           Where it is expected, which stands as it is if no place near it lies in the window.
  /// \param reach        How far away from there it may be, cells.
  /// \param far_penalty  Taken off the contrast of a place a box's longer side away.
  /// \param other        The box is not about where this one is.
  [[nodiscard]] Box best_near(const Box& at, double reach, double far_penalty,
                              const std::optional<Box>& other) const noexcept;

  /// Climbs, by growing or shrinking both sides or one, to the box whose ellipse has the largest sum of weights above
  /// a neutral one.
  /// \param from         The box that it starts at, whose middle it keeps.
  /// \param neutral      The weight that speaks neither for the target nor against it.
  /// \param most_growth  Of a side against that of `from`, as a factor, either way.
  [[nodiscard]] Box fitted(const Box& from, double most_growth, double neutral) const noexcept;

  /// The box moved to the mean place of the weights in its ellipse, a few times.
  [[nodiscard]] Box shifted(Box box) const noexcept;

 private:
  Box picture_;  // px
  CellGrid grid_;
  int rows_ = 0, cols_ = 0;
  Image<float> smoothed_;
  BoxBlur blur_;
  BoxSums sums_;
  EllipseSums ellipses_;
};

}  // namespace mnemon
