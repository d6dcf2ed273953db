// SPDX-License-Identifier: MIT
#pragma once
#include <vector>

#include <mnemon/image/frame.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/track/kept_out.hpp>
#include <mnemon/track/region.hpp>

namespace mnemon {

/// What a tracker is shown of frames.
struct Showing {
  int width = 0;                       ///< They are scaled to that width, px; 0: as they are.
  std::vector<Polygon> keep_out = {};  ///< Areas that are never the target, px of the frames as they come.

  /// Whether that is the frames as they come.
  [[nodiscard]] bool is_plain() const noexcept { return width == 0 && keep_out.empty(); }
};

/// Frames as a tracker is shown them, and its answers as they are of the frames as they come.
class ShownFrames {
 public:
  /// \throws CallError  where the width is neither 0 nor from 8 to 8192 px, or an area is none.
  explicit ShownFrames(const Showing& showing);

  /// Starts afresh: what areas are painted with is chosen on the next frame.
  void start() noexcept { kept_out_.start(); }

  /// The frame as it is shown; it holds until the next call. Allocates only for the first frame, and for one of another size.
  /// \throws CallError  where it would have more than 8192 rows.
  [[nodiscard]] Frame shown(const Frame& frame);

  /// A region of the last frame, as it is shown. A mask is this object's, and holds until the next call.
  /// \throws CallError  where its middle lies in an area to keep out.
  [[nodiscard]] Region to_shown(const Region& region);

  /// A length that was measured in what is shown, px of the frame.
  [[nodiscard]] double to_original(double length_px) const noexcept { return length_px / across_; }
  /// The same of a box.
  [[nodiscard]] OrientedBox to_original(const OrientedBox& box) const noexcept;
  /// A box of what was shown as one of the frame as it came.
  [[nodiscard]] Box to_original(const Box& box) const noexcept {
    return to_original(OrientedBox{box, 0}).box;
  }
  /// The same of a mask: each pixel is that which its middle is shown in. It holds until the next call.
  [[nodiscard]] ImageView<const Byte> to_original(ImageView<const Byte> mask);

 private:
  void scale_for(const Frame& frame);
  [[nodiscard]] Point shown_form(Point point) const noexcept { return {point.x * across_, point.y * down_}; }
  [[nodiscard]] Box shown_form(const Box& box) const noexcept;
  [[nodiscard]] OrientedBox shown_form(const OrientedBox& box) const noexcept;
  [[nodiscard]] Polygon shown_form(Polygon corners) const;
  [[nodiscard]] PointMarks shown_form(const PointMarks& marks) const;
  [[nodiscard]] ImageView<const Byte> shown_form(ImageView<const Byte> mask);

  int width_;
  KeptOut kept_out_;
  FrameSize size_;  // of the frames as they come
  bool is_scaled_ = false;
  double across_ = 1;
  double down_ = 1;
  Resizer resizer_;
  Image<Byte> picture_;  // as it is shown; empty while frames are shown as they are
  Image<Byte> mask_;     // of a region, as it is shown
  Image<Byte> answer_;   // a mask of the frame
};

}  // namespace mnemon
