// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/signal/pair_transform.hpp>
/// \file
/// Products of whole spectra of paired channels, as `PairTransform` makes them. Every stack has a multiple of 8
/// channels. Sums run over the channels in a fixed order, so that they have the same bits on any processor.
namespace mnemon {

/// out(k) = sum over the pairs of conj(a) b: the spectrum whose inverse has, in its real part, the sum of the
/// channels' correlations. `out` has one complex channel.
void correlate_into(const Image<Complex>& a, const Image<Complex>& b, Image<Complex>& out) noexcept;

/// The power of all channels at each frequency: out(k) = (|a(k)|² + |a(-k)|²) / 2 summed over the pairs.
void power_into(const Image<Complex>& a, Image<float>& work, Image<float>& out) noexcept;

/// to(k) += rate (conj(goal(k)) from(k) - to(k)) for every pair.
void blend_with_goal(const Image<Complex>& goal, const Image<Complex>& from, float rate,
                     Image<Complex>& to) noexcept;

/// The elements as pairs of floats. std::complex's own product checks for infinities, which stops vectorising.
[[nodiscard]] inline float* parts(Image<Complex>& values) noexcept {
  return reinterpret_cast<float*>(values.view().data);
}
/// Real and imaginary parts in turn.
[[nodiscard]] inline const float* parts(const Image<Complex>& values) noexcept {
  return reinterpret_cast<const float*>(values.view().data);
}
/// Real and imaginary parts in turn.
[[nodiscard]] inline std::span<float> floats(Image<Complex>& values) noexcept {
  return {parts(values), 2 * values.view().size()};
}
/// Real and imaginary parts in turn.
[[nodiscard]] inline std::span<const float> floats(const Image<Complex>& values) noexcept {
  return {parts(values), 2 * values.view().size()};
}

/// The spectrum of a Gaussian of height 1 on the middle cell: one pair whose second channel is 0.
[[nodiscard]] Image<Complex> goal_spectrum(int rows, int cols, double sigma);

/// A response out of its spectrum of one pair: the real part of the inverse, scaled, and the work it takes.
class ResponseMaker {
 public:
  /// For responses of that shape.
  ResponseMaker(int rows, int cols);
  [[nodiscard]] Image<Complex>& spectrum() noexcept { return spectrum_; }  ///< To be filled.
  /// The response of the spectrum at hand: rows x columns; holds until the next call.
  ImageView<const float> make() noexcept;

 private:
  PairTransform transform_;
  Image<Complex> spectrum_;
  Image<float> pairs_;
  Image<float> response_;
};

}  // namespace mnemon
