// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/base/lanes.hpp>
/// \file
/// Eight floats at a time as four complex numbers, or as eight channels. Products of complex numbers are written with these
/// and not as loops over pairs: out of such a loop GCC 12 makes fused multiply-add-subtracts for newer processors even
/// with `-ffp-contract=off`, and the clones of a kernel then round differently.
namespace mnemon {

inline constexpr Eight kOddNegative = {1, -1, 1, -1, 1, -1, 1, -1};  ///< Turns the sign of every second one.

/// Imaginary parts where real ones were, and the other way round.
[[nodiscard]] inline Eight swapped(Eight v) noexcept {
  return __builtin_shufflevector(v, v, 1, 0, 3, 2, 5, 4, 7, 6);
}

/// The real part of each number, twice.
[[nodiscard]] inline Eight real_twice(Eight v) noexcept {
  return __builtin_shufflevector(v, v, 0, 0, 2, 2, 4, 4, 6, 6);
}

/// The imaginary part of each number, twice.
[[nodiscard]] inline Eight imaginary_twice(Eight v) noexcept {
  return __builtin_shufflevector(v, v, 1, 1, 3, 3, 5, 5, 7, 7);
}

/// Four products a b of complex numbers.
[[nodiscard]] inline Eight product(Eight a, Eight b) noexcept {
  return real_twice(a) * b - kOddNegative * (imaginary_twice(a) * swapped(b));
}

/// Four products conj(a) b.
[[nodiscard]] inline Eight conjugate_product(Eight a, Eight b) noexcept {
  return real_twice(a) * b + kOddNegative * (imaginary_twice(a) * swapped(b));
}

/// The sum of all eight, in a fixed order.
[[nodiscard]] inline float sum_of_lanes(Eight v) noexcept {
  return ((v[0] + v[4]) + (v[1] + v[5])) + ((v[2] + v[6]) + (v[3] + v[7]));
}

}  // namespace mnemon
