// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/image.hpp>
#include <mnemon/signal/transform_plan.hpp>

namespace mnemon {

/// Two-dimensional Fourier transforms of real pictures of one size. A spectrum is rows x (cols / 2 + 1): the half that
/// the other half mirrors. May be used by several threads at once. Pictures and spectra are whole ones of `Image`, or
/// views as well aligned and as contiguous.
class RealTransform {
 public:
  /// \throws CallError  if a side is below 1 or above kLongestSide.
  RealTransform(int rows, int cols);

  /// Of the picture.
  [[nodiscard]] int rows() const noexcept { return rows_; }
  /// Of the picture.
  [[nodiscard]] int cols() const noexcept { return cols_; }
  /// Of the half of the spectrum that is kept.
  [[nodiscard]] int spectrum_cols() const noexcept { return cols_ / 2 + 1; }

  /// Room for what is transformed: rows x columns.
  [[nodiscard]] Image<float> make_picture() const { return {rows_, cols_}; }
  /// Room for what comes of it: rows x spectrum_cols().
  [[nodiscard]] Image<Complex> make_spectrum() const { return {rows_, spectrum_cols()}; }

  /// The sum over all places of picture(r, c) exp(-2 pi i (u r / rows + v c / cols)). Keeps `picture`.
  void forward_into(ImageView<const float> picture, ImageView<Complex> spectrum) const noexcept;

  /// Undoes forward_into, scale included. Overwrites `spectrum` with what is of no further use.
  void inverse_into(ImageView<Complex> spectrum, ImageView<float> picture) const noexcept;

 private:
  int rows_;
  int cols_;
  RealPlan plan_;
};

}  // namespace mnemon
