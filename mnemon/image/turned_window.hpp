// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/oriented_box.hpp>
#include <mnemon/image/resample.hpp>

namespace mnemon {

/// Samples windows of RGB pictures as grey, turned ones too. With no more than a pixel to a sample, a turned window is
/// interpolated between pixels. Otherwise an upright window around it is sampled with care, about as finely, and the turned
/// one is interpolated out of that. Upright windows are sampled as by GreyWindow.
/// All memory is taken when it is made; sampling allocates nothing. Not to be shared by threads.
class TurnedWindow {
 public:
  TurnedWindow() = default;
  /// \param rows, cols    The size of what is sampled.
  /// \param max_w, max_h  The largest window, px.
  TurnedWindow(int rows, int cols, double max_w, double max_h);

  /// \param rgb     Three channels, at least one pixel.
  /// \param window  Where, px; at most the largest size, any place and turn.
  /// \param out     rows x cols, one channel.
  void sample_into(ImageView<const Byte> rgb, const OrientedBox& window, ImageView<float> out) noexcept;

 private:
  GreyWindow upright_;
  GreyWindow around_;
  Image<float> wide_;  // the window around a turned one
};

}  // namespace mnemon
