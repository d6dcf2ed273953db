// SPDX-License-Identifier: MIT
#pragma once
#include <complex>
#include <memory>
#include <string>

/// \file
/// What is asked of the package that transforms. It is chosen when Mnemon is built (`MNEMON_FFT`); the files of one
/// folder, `fftw` or `kissfft`, see it and nothing else does.
namespace mnemon {

using Complex = std::complex<float>;  ///< A value of a spectrum.

/// What the last bits of a transform depend on: the package, and what of the processor it chooses its code by. Where two
/// machines say the same, the same code makes the same bits.
[[nodiscard]] std::string transform_arithmetic();

/// How complex pictures of one shape (rows x cols x count, `count` innermost) are transformed, both ways. Memory is
/// aligned as that of `Image`. A shape is planned once in a process, and never by timing, so that two runs give the same bits.
/// May be used by several threads at once; allocates nothing, and keeps what it reads.
class ComplexPlan {
 public:
  /// Each number at least 1; a side at most kLongestSide.
  ComplexPlan(int rows, int cols, int count);

  /// From places to frequencies.
  void forward(const Complex* from, Complex* to) const noexcept;
  /// Without the scale: the picture comes out rows x cols times too large.
  void backward(const Complex* from, Complex* to) const noexcept;

 private:
  struct Made;
  std::shared_ptr<const Made> made_;
};

/// The same of real pictures, one channel; of the spectrum, rows x (cols / 2 + 1), the half is kept that the other half
/// mirrors.
class RealPlan {
 public:
  /// Each number at least 1; a side at most kLongestSide.
  RealPlan(int rows, int cols);

  /// From places to the frequencies that are kept.
  void forward(const float* from, Complex* to) const noexcept;
  /// Without the scale. Overwrites what it reads with what is of no further use.
  void backward(Complex* from, float* to) const noexcept;

 private:
  struct Made;
  std::shared_ptr<const Made> made_;
};

/// The longest side that is planned for.
inline constexpr int kLongestSide = 4096;

}  // namespace mnemon
