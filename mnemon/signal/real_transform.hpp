// SPDX-License-Identifier: MIT
#pragma once
#include <complex>
#include <memory>

#include <mnemon/image/image.hpp>

namespace mnemon {

using Complex = std::complex<float>;

/// Two-dimensional Fourier transforms of every channel of a stack of one size (rows x cols x channels,
/// channels innermost). A spectrum is rows x (cols / 2 + 1) x channels: the half that the other half mirrors.
///
/// A size is planned once in a process and never by timing, so that two runs give the same bits. A transform
/// may be used by several threads at once. Stacks and spectra are whole pictures of `Image`, or views as
/// well aligned and as contiguous.
class StackTransform {
 public:
  /// \throws CallError  if a number is below 1.
  StackTransform(int rows, int cols, int channels = 1);

  [[nodiscard]] int rows() const noexcept { return rows_; }
  [[nodiscard]] int cols() const noexcept { return cols_; }
  [[nodiscard]] int channels() const noexcept { return channels_; }
  [[nodiscard]] int spectrum_cols() const noexcept { return cols_ / 2 + 1; }

  [[nodiscard]] Image<float> make_stack() const { return {rows_, cols_, channels_}; }
  [[nodiscard]] Image<Complex> make_spectrum() const { return {rows_, spectrum_cols(), channels_}; }

  /// The sum over all places of stack(r, c) exp(-2 pi i (u r / rows + v c / cols)). Keeps `stack`.
  void forward_into(ImageView<const float> stack, ImageView<Complex> spectrum) const noexcept;

  /// Undoes forward_into, scale included. Overwrites `spectrum` with what is of no further use.
  void inverse_into(ImageView<Complex> spectrum, ImageView<float> stack) const noexcept;

 private:
  struct Plans;
  int rows_;
  int cols_;
  int channels_;
  std::shared_ptr<const Plans> plans_;
};

/// The smallest size, at least `least`, that has no prime factor above 7: such sizes transform fast.
/// Even where `least` is at least 2.
[[nodiscard]] int fast_size(int least) noexcept;

}  // namespace mnemon
