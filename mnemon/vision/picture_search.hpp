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
/// come from one running sum. Places that were looked at in vain are left out for a while. Looking for what is lost and
/// looking beside what is held leave out places of their own. Allocates nothing once made.
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

  /// Forgets where what is lost was looked for in vain.
  void start() noexcept { in_vain_ = {}; }

  /// The best place for a box of that size, px; `table` says what each of the 4096 colours weighs, in [0, 1].
  [[nodiscard]] Place find(ImageView<const Byte> rgb, const float* table, double w, double h) noexcept {
    return find_but(in_vain_, rgb, table, w, h);
  }

  /// Leaves a place and its surroundings out of the next 12 searches for what is lost.
  void leave_out(Point middle) noexcept { in_vain_.add(middle); }

  /// The best place beside one. Both are left out of the next searches beside one.
  [[nodiscard]] Point find_beside(ImageView<const Byte> rgb, const float* table, Point middle, double w,
                                  double h) noexcept {
    beside_.add(middle);
    const Point place = find_but(beside_, rgb, table, w, h).middle;
    beside_.add(place);
    return place;
  }

 private:
  // The last places that are left out.
  class LeftOut {
   public:
    void add(Point middle) noexcept { places_[count_++ % kMost] = middle; }
    [[nodiscard]] bool holds(Point middle, double w, double h) const noexcept;

   private:
    static constexpr int kMost = 12;
    std::array<Point, kMost> places_{};
    int count_ = 0;
  };

  [[nodiscard]] Place find_but(const LeftOut& left_out, ImageView<const Byte> rgb, const float* table,
                               double w, double h) noexcept;

  FrameSize size_;
  int step_ = 1;  // pixels from one sample to the next
  ColourWindow colours_;
  Image<float> weights_;
  BoxSums sums_;
  LeftOut in_vain_;
  LeftOut beside_;
};

}  // namespace mnemon
