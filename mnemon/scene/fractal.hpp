// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// How a fractal texture looks.
struct FractalForm {
  double cell_w_px = 64;  ///< Width of its largest features.
  double cell_h_px = 64;  ///< Height of its largest features.
  int octaves = 5;        ///< Each adds features of half the size and half the strength.
};

/// A texture of layered value noise, rows x cols, from 0 to 1 with mean near 0.5; it repeats without a seam
/// from its last column to its first. Source: Perlin 1985, An image synthesizer; ours takes values, not
/// gradients.
[[nodiscard]] Image<float> fractal_texture(int rows, int cols, const FractalForm& form, std::uint64_t key);

/// Smooth noise of one variable, from -1 to 1, with features about 1 long.
[[nodiscard]] double smooth_noise(double at, std::uint64_t key) noexcept;

/// 0 up to 0, 1 from 1 on, smooth between.
template <class Number>
[[nodiscard]] constexpr Number smooth_step(Number t) noexcept {
  const Number c = t < 0 ? Number(0) : t > 1 ? Number(1) : t;
  return c * c * (3 - 2 * c);
}

}  // namespace mnemon
