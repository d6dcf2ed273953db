// SPDX-License-Identifier: MIT
#pragma once
#include <cstring>
/// \file
/// Eight floats at a time: four complex numbers, or eight channels. Products of complex numbers are written with these
/// and not as loops over pairs: out of such a loop GCC 12 makes fused multiply-add-subtracts for newer processors even
/// with `-ffp-contract=off`, and the clones of a kernel then round differently.
namespace mnemon {

// Vectors are handed over only within the files that include this, so how other files would is of no account.
#pragma GCC diagnostic ignored "-Wpsabi"

using Eight = float __attribute__((vector_size(32)));  ///< Eight numbers that are worked with at once.

inline constexpr Eight kOddNegative = {1, -1, 1, -1, 1, -1, 1, -1};  ///< Turns the sign of every second one.

/// Eight numbers from memory, at any address.
[[nodiscard]] inline Eight load(const float* from) noexcept {
  Eight values;
  std::memcpy(&values, from, sizeof values);
  return values;
}

/// Puts them back, at any address.
inline void store(Eight values, float* to) noexcept { std::memcpy(to, &values, sizeof values); }

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
