// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/ellipse.hpp>
#include <mnemon/vision/colour_index.hpp>

namespace mnemon {

/// Sums of weights in an ellipse.
struct Moments {
  double mass = 0;                ///< Sum of weights.
  double count = 0;               ///< Samples in the ellipse.
  Point middle;                   ///< Mean place of the weights, px; the ellipse's where there are none.
  double xx = 0, xy = 0, yy = 0;  ///< Second moments about that place, px².
  /// Mean weight, in [0, 1].
  [[nodiscard]] double density() const noexcept { return count > 0 ? mass / count : 0; }
};

/// What each place of a window weighs by its colour: 80 samples along a side, each the nearest pixel.
/// Allocates nothing once made.
class BackProjection {
 public:
  static constexpr int kSide = 80;  ///< Samples along a side of the window.

  BackProjection() : colours_(kSide, kSide), weights_(kSide, kSide) {}

  /// Looks at a window of the picture, px; `table` says what each of the 4096 colours weighs.
  void look(ImageView<const Byte> rgb, const Box& window, const float* table) noexcept;

  /// Weighs the colours of the last look anew.
  void weigh(const float* table) noexcept;

  /// Of the samples, in [0, 1]: kSide x kSide.
  [[nodiscard]] ImageView<const float> weights() const noexcept { return weights_.view(); }
  /// That was looked at last, px.
  [[nodiscard]] const Box& window() const noexcept { return window_; }

  /// Sums over the samples inside an ellipse; all sums are 0 where the ellipse holds no sample of the window.
  [[nodiscard]] Moments moments_in(const Ellipse& ellipse) const noexcept;

  /// Sums over the samples inside an ellipse, each sample's weight less `level`, but not below 0, and fading
  /// towards the ellipse's edge.
  [[nodiscard]] Moments moments_above(const Ellipse& ellipse, double level) const noexcept;

  /// use(row, column, colour, squared distance from the middle in half axes) for every sample of the window.
  template <class Use>
  void for_each_colour(const Ellipse& ellipse, Use use) const {
    const Axes axes = axes_of(ellipse);
    const ImageView<const ColourIndex> colours = colours_.indices();
    for (int r = 0; r < kSide; ++r)
      for (int c = 0; c < kSide; ++c) use(r, c, colours(r, c), squared_distance(axes, r, c));
  }

  /// The middle of a sample, px.
  [[nodiscard]] Point place_of(double r, double c) const noexcept {
    return {window_.x + (c + 0.5) * window_.w / kSide, window_.y + (r + 0.5) * window_.h / kSide};
  }

 private:
  // An ellipse as a map from samples to its own axes.
  struct Axes {
    double a = 0, b = 0, c = 0;
    double d = 0, e = 0, f = 0;
  };
  [[nodiscard]] Axes axes_of(const Ellipse& ellipse) const noexcept;
  [[nodiscard]] static double squared_distance(const Axes& axes, int r, int c) noexcept {
    const double u = axes.a * c + axes.b * r + axes.c;
    const double v = axes.d * c + axes.e * r + axes.f;
    return u * u + v * v;
  }
  [[nodiscard]] Moments sums(const Ellipse& ellipse, float level, float fade) const noexcept;

  Box window_{0, 0, 1, 1};
  ColourWindow colours_;
  Image<float> weights_;
};

}  // namespace mnemon
