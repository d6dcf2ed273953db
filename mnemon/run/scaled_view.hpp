// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/image/frame.hpp>
#include <mnemon/track/region.hpp>

namespace mnemon {

/// Shows a tracker the frames at another width, and brings its answers back.
class ScaledView {
 public:
  /// \param width  Px; left out: frames are shown as they are.
  /// \throws CallError  where the width is not between 8 and 8192 px.
  explicit ScaledView(std::optional<int> width = {});

  /// The frame as it is shown; it holds until the next call.
  /// \throws CallError  where it would have more than 8192 rows.
  [[nodiscard]] Frame shown(const Frame& frame);

  /// A region of the last frame, as it is shown. A mask is this object's, and holds until the next call.
  [[nodiscard]] Region to_shown(const Region& region);

  /// A length that was measured in what is shown, px of the original.
  [[nodiscard]] double to_original(double length_px) const noexcept { return length_px / across_; }
  /// The same of a box.
  [[nodiscard]] OrientedBox to_original(const OrientedBox& box) const noexcept;

 private:
  [[nodiscard]] Point shown_form(Point point) const noexcept { return {point.x * across_, point.y * down_}; }
  [[nodiscard]] Box shown_form(const Box& box) const noexcept;
  [[nodiscard]] OrientedBox shown_form(const OrientedBox& box) const noexcept;
  [[nodiscard]] Polygon shown_form(Polygon corners) const;
  [[nodiscard]] PointMarks shown_form(const PointMarks& marks) const;
  [[nodiscard]] ImageView<const Byte> shown_form(ImageView<const Byte> mask);

  std::optional<int> width_;
  double across_ = 1;
  double down_ = 1;
  Image<Byte> small_;  // empty while frames are shown as they are
  Image<Byte> mask_;
};

}  // namespace mnemon
