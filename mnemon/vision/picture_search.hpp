// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/image/frame.hpp>
#include <mnemon/vision/box_sums.hpp>
#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// Finds the place in a whole picture whose colours weigh most and stand out most from those around it. The picture is
/// looked at coarsely, at most 16384 of its pixels, so that a search costs the same for any picture; sums over boxes
/// come from one running sum. Places that were looked at in vain are left out for a while. Allocates nothing once made.
class PictureSearch {
 public:
  /// Somewhere in the picture.
  struct Place {
    Point middle;       ///< Of a box there, px.
    double score = -1;  ///< Mean weight in the box less that of a frame as large around it, in [-1, 1].
  };

  PictureSearch() = default;
  /// For pictures of that size.
  explicit PictureSearch(FrameSize size);

  /// Forgets which places were looked at in vain.
  void start() noexcept;

  /// The best place for a box of that size, px; `table` says what each of the 4096 colours weighs, in [0, 1].
  [[nodiscard]] Place find(ImageView<const Byte> rgb, const float* table, double w, double h) noexcept;

  /// The best place beside one, which is then left out as that is.
  [[nodiscard]] Point find_beside(ImageView<const Byte> rgb, const float* table, Point middle, double w,
                                  double h) noexcept {
    leave_out(middle);
    const Point place = find(rgb, table, w, h).middle;
    leave_out(place);
    return place;
  }

  /// Leaves a place and its surroundings out of the next 12 searches.
  void leave_out(Point middle) noexcept;

 private:
  static constexpr int kLeftOut = 12;

  [[nodiscard]] bool is_left_out(Point middle, double w, double h) const noexcept;

  FrameSize size_;
  int step_ = 1;  // pixels from one sample to the next
  ColourWindow colours_;
  Image<float> weights_;
  BoxSums sums_;
  std::array<Point, kLeftOut> left_out_{};
  int left_out_count_ = 0;
};

}  // namespace mnemon
