// SPDX-License-Identifier: MIT
#pragma once
#include <bit>
#include <cstdint>
#include <span>
/// \file
/// Sums and elementwise functions over floats, in an order that does not depend on the processor.
namespace mnemon {

/// The sum, gathered in sixteen parts.
[[nodiscard]] float sum_of(std::span<const float> values) noexcept;

/// The sum of squares, gathered in sixteen parts.
[[nodiscard]] float sum_of_squares(std::span<const float> values) noexcept;

/// The sum of products, gathered in sixteen parts; as many of each.
[[nodiscard]] float dot(std::span<const float> a, std::span<const float> b) noexcept;

/// to += rate (from - to), element by element; as many of each, not overlapping.
void blend_towards(std::span<const float> from, float rate, std::span<float> to) noexcept;

/// Replaces each v by log(1 + v).
/// \param values  Each from 0 to 1e6.
/// A polynomial in place of the C library's function, so that the loop vectorises and gives the same bits
/// everywhere; within 1e-5 of it.
void log1p_in_place(std::span<float> values) noexcept;

/// exp(v), to 5e-7 of its value; v at most 0, and taken as -80 below that. A polynomial in place of the C library's
/// function, so that loops vectorise and give the same bits everywhere.
[[nodiscard]] inline float exp_of_negative(float v) noexcept {
  const float bounded = v > -80.0f ? v : -80.0f;
  // 2^n times the exponential of a rest of at most half of ln 2; adding and taking 1.5 x 2^23 rounds.
  const float n = (bounded * 1.44269504f + 12582912.0f) - 12582912.0f;
  const float rest = (bounded - n * 0.693145752f) - n * 1.42860677e-6f;
  const float power =
      1.0f +
      rest * (1.0f +
              rest * (0.5f + rest * (0.16666667f +
                                     rest * (0.041666667f + rest * (0.0083333333f + rest * 0.0013888889f)))));
  const auto exponent = static_cast<std::int32_t>(n) + 127;
  return power * std::bit_cast<float>(exponent << 23);
}

/// Brings the values to mean 0 and a sum of squares of 1, then multiplies them by `taper`, element by
/// element. Values that are all alike become 0.
void normalise_and_taper(std::span<float> values, std::span<const float> taper) noexcept;

}  // namespace mnemon
