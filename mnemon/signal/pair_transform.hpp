// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>
#include <mnemon/signal/transform_plan.hpp>

namespace mnemon {

/// Two-dimensional Fourier transforms of stacks with an even number of channels, two real channels at a time: the
/// first of a pair is taken as the real part, the second as the imaginary part of one complex channel. So a stack
/// needs no rearranging, its channels fill the processor's lanes, and a transform costs half as much as one of
/// real channels each, two to ten times less at the sizes of fast_side.
///
/// The spectrum P of a pair (a, b) is A + i B, whole: rows x cols x channels / 2. What is linear and uses filters
/// of real samples can be done on P as it is; the sum over pairs of conj(P) P', transformed back, has the sum of
/// the channels' correlations as its real part. A and B follow from P at a frequency and at its mirror image.
///
/// May be used by several threads at once. Stacks and spectra are
/// whole pictures of `Image`, or views as well aligned and as contiguous.
class PairTransform {
 public:
  /// \throws CallError  if a side is below 1 or above kLongestSide, or `channels` is odd or below 2.
  PairTransform(int rows, int cols, int channels);

  /// Of a channel.
  [[nodiscard]] int rows() const noexcept { return rows_; }
  /// Of a channel.
  [[nodiscard]] int cols() const noexcept { return cols_; }
  /// How many there are, an even number.
  [[nodiscard]] int channels() const noexcept { return channels_; }
  /// Of channels, each a complex plane.
  [[nodiscard]] int pairs() const noexcept { return channels_ / 2; }

  /// Room for what is transformed: rows x columns x channels.
  [[nodiscard]] Image<float> make_stack() const { return {rows_, cols_, channels_}; }
  /// Room for what comes of it: rows x columns x pairs.
  [[nodiscard]] Image<Complex> make_spectrum() const { return {rows_, cols_, pairs()}; }

  /// The sum over all places of pair(r, c) exp(-2 pi i (u r / rows + v c / cols)). Keeps `stack`.
  void forward_into(ImageView<const float> stack, ImageView<Complex> spectrum) const noexcept;

  /// Undoes forward_into but for the scale: the stack comes out rows x cols times too large. Keeps `spectrum`.
  void inverse_unscaled_into(ImageView<const Complex> spectrum, ImageView<float> stack) const noexcept;

 private:
  int rows_;
  int cols_;
  int channels_;
  ComplexPlan plan_;
};

/// The size nearest to `wanted`, by ratio, among those of which stacks transform several times as fast as of their
/// neighbours: 16, 20, 32, 64 and 128. Single pictures do so at 80 and 100 as well.
[[nodiscard]] int fast_side(double wanted, bool single = false) noexcept;

}  // namespace mnemon
