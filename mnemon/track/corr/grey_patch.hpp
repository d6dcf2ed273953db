// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/turned_window.hpp>
#include <mnemon/track/corr/window_features.hpp>

namespace mnemon {

/// What the plain filter sees of a window: the logarithm of its grey values, brought to mean 0 and power 1, tapered
/// towards the window's edge. Source: Bolme, Beveridge, Draper and Lui, CVPR 2010, section 3.1.
class GreyPatch final : public WindowFeatures {
 public:
  /// \param rows, cols    Samples.
  /// \param max_w, max_h  The largest window, px.
  GreyPatch(int rows, int cols, double max_w, double max_h);

  ImageView<const float> take(ImageView<const Byte> rgb, const OrientedBox& window) noexcept override;

  /// The same for a patch of levels that the caller has made; it holds until the next call.
  ImageView<const float> prepare(ImageView<const float> levels) noexcept;

  /// The logarithms of the last window's grey values, before anything else was done to them.
  [[nodiscard]] ImageView<const float> levels() const noexcept { return levels_.view(); }

  /// What was last answered.
  [[nodiscard]] ImageView<const float> patch() const noexcept { return patch_.view(); }

 private:
  TurnedWindow sampler_;
  Image<float> taper_;
  Image<float> levels_;
  Image<float> patch_;
};

}  // namespace mnemon
