// SPDX-License-Identifier: MIT
#pragma once
#include <array>
#include <complex>
#include <span>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// A one-dimensional correlation filter over a row of views of the target, at as many sizes or turns: the middle view
/// is the target as it is held to be, and the response, read between the views, is highest where it really is. Write
/// the views, then `learn` or `find`.
///
/// A filter over so few views never needs their features themselves, only the products of each learnt view with
/// each new one: 17 x 17 numbers. That is what compressing features to as many dimensions as there are samples comes
/// to, exactly and with no basis to work out.
/// Source: Danelljan, Häger, Khan and Felsberg, TPAMI 2017, sections 4.2 and 5.2 (compression, interpolated scores).
class PoseFilter {
 public:
  static constexpr int kViews = 17;           ///< That are compared at once.
  static constexpr int kMiddle = kViews / 2;  ///< The one of no change.

  PoseFilter() = default;
  /// \param length  Features of a view.
  explicit PoseFilter(std::size_t length);

  /// Writes the features of a view, as many as there are.
  void set_view(int view, std::span<const float> features) noexcept;

  /// Moves the filter towards the views, at a rate from 0 to 1; the first time all the way.
  void learn(double rate) noexcept;

  /// Answers for the views; after learning.
  /// \returns  Where the response is highest, in views from the middle one, in [-8, 8].
  [[nodiscard]] double find() noexcept;

 private:
  using Spectrum = std::array<std::complex<double>, kViews>;

  [[nodiscard]] static Spectrum shared_spectrum(const Image<float>& a, const Image<float>& b) noexcept;

  Image<float> features_;  // kViews x length, tapered towards the outer views
  Image<float> model_;     // the same, learnt
  std::array<float, kViews> taper_{};
  std::array<double, kViews> goal_{};
  std::array<double, kViews> power_{};
  double added_ = 0;
  bool learnt_ = false;
};

}  // namespace mnemon
