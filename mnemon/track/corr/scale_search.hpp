// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <complex>
#include <vector>

#include <mnemon/image/resample.hpp>
#include <mnemon/vision/gradient_histogram.hpp>

namespace mnemon {

/// Finds how much the target has grown since the last frame: a one-dimensional correlation filter over patches of the
/// target at 17 sizes, whose response is read between them. `learn` first, then `find` and `learn` in turn.
///
/// A filter over so few samples never needs their features themselves, only the products of each learnt patch with
/// each new one: 17 x 17 numbers. That is what compressing features to as many dimensions as there are samples comes
/// to, exactly and with no basis to work out.
/// Source: Danelljan, Häger, Khan and Felsberg, TPAMI 2017, sections 4.2 and 5.2 (compression, interpolated scores).
class ScaleSearch {
 public:
  static constexpr int kSizes = 17;

  ScaleSearch() = default;
  /// \param target_w, target_h  Size of the target, px.
  /// \param reach         The largest growth looked for between two frames, above 1.
  /// \param max_w, max_h  The largest window that is ever sampled, px; larger targets are looked at in part.
  ScaleSearch(double target_w, double target_h, double reach, double max_w, double max_h);

  /// Moves the filter towards the target as it is, at a rate from 0 to 1. Its middle is in px, its scale over the size
  /// at first.
  void learn(ImageView<const Byte> rgb, Point middle, double scale, double rate) noexcept;

  /// \returns  The growth over `scale` at which the response is highest, in [1 / reach, reach].
  [[nodiscard]] double find(ImageView<const Byte> rgb, Point middle, double scale) noexcept;

  /// Where a sample lies in a line: after which one, and how far on towards the next.
  struct Spot {
    int low = 0;
    float on = 0;
  };

 private:
  using Spectrum = std::array<std::complex<double>, kSizes>;

  void describe(ImageView<const Byte> rgb, Point middle, double scale) noexcept;
  [[nodiscard]] Spectrum shared_spectrum(const Image<float>& a, const Image<float>& b) noexcept;

  double target_w_ = 0;
  double target_h_ = 0;
  double step_ = 0;     // the logarithm of the growth from one size to the next
  double largest_ = 1;  // the largest size over the target's
  Point sampler_size_;
  GreyWindow sampler_;
  GradientHistogram gradients_;
  Image<float> base_;         // the largest size, sampled once
  Image<float> patch_;        // one size
  Image<float> cells_;        // its histograms
  Image<float> features_;     // kSizes x length
  Image<float> model_;        // the same, learnt
  std::vector<Spot> across_;  // of every size in turn
  std::vector<Spot> down_;
  std::array<float, kSizes> taper_{};
  std::array<double, kSizes> goal_{};
  std::array<double, kSizes> power_{};
  double added_ = 0;
  bool learnt_ = false;
};

}  // namespace mnemon
