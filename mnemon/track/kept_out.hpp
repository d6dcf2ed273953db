// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <vector>

#include <mnemon/geometry/polygon.hpp>
#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Areas of a picture that are never the target, such as a clock in a corner. They are painted over, each in one colour: what moves in
/// them can then be taken for the target by no tracker, of whatever kind. The colour is the mean of what is to the left and right of an
/// area on the first picture. Not to be shared by threads.
class KeptOut {
 public:
  KeptOut() = default;
  /// \param areas  Outlines, px of the frames as they come.
  /// \throws CallError  where one has fewer than three corners, a corner that is not finite, or no area.
  explicit KeptOut(std::vector<Polygon> areas);

  /// Whether nothing is kept out.
  [[nodiscard]] bool empty() const noexcept { return areas_.empty(); }

  /// Whether a place of the frame, px, lies in one of them.
  [[nodiscard]] bool covers(Point place) const noexcept;

  /// Chooses the colours anew on the next picture.
  void start() noexcept { size_ = {}; }

  /// Paints them. Allocates only on the first picture, and on one of another size.
  /// \param rgb           A frame, at whatever size.
  /// \param across, down  How large it is over the frame as it came.
  void paint(ImageView<Byte> rgb, double across, double down);

 private:
  // Pixels of a row from first to end, in the colour of an area.
  struct Run {
    int row, first, end;
    std::size_t area;
  };
  void find_runs(FrameSize size, double across, double down);
  void choose_colours(ImageView<const Byte> rgb, double across, double down);

  std::vector<Polygon> areas_;
  FrameSize size_;  // of the pictures that the runs are for
  std::vector<Run> runs_;
  std::vector<std::array<Byte, 3>> colours_;  // of each area
};

}  // namespace mnemon
