// SPDX-License-Identifier: MIT
#pragma once
#include <cstring>
/// \file
/// Several numbers that are worked with at once, for kernels that a compiler does not make out of loops.
namespace mnemon {

// Vectors are handed over only within the files that include this, so how other files would is of no account.
#pragma GCC diagnostic ignored "-Wpsabi"

using Four = float __attribute__((vector_size(16)));    ///< Four numbers.
using FourInts = int __attribute__((vector_size(16)));  ///< Four whole numbers.
using Eight = float __attribute__((vector_size(32)));   ///< Eight numbers.

/// Four numbers from memory, at any address.
[[nodiscard]] inline Four load_four(const float* from) noexcept {
  Four values;
  std::memcpy(&values, from, sizeof values);
  return values;
}

/// Four whole numbers likewise.
[[nodiscard]] inline FourInts load_four(const int* from) noexcept {
  FourInts values;
  std::memcpy(&values, from, sizeof values);
  return values;
}

/// Eight numbers likewise.
[[nodiscard]] inline Eight load(const float* from) noexcept {
  Eight values;
  std::memcpy(&values, from, sizeof values);
  return values;
}

/// Puts four back, at any address.
inline void store(Four values, float* to) noexcept { std::memcpy(to, &values, sizeof values); }

/// Puts eight back likewise.
inline void store(Eight values, float* to) noexcept { std::memcpy(to, &values, sizeof values); }

/// The lower and upper half of eight.
[[nodiscard]] inline Four lower_half(Eight v) noexcept { return __builtin_shufflevector(v, v, 0, 1, 2, 3); }
[[nodiscard]] inline Four upper_half(Eight v) noexcept {  ///< See lower_half.
  return __builtin_shufflevector(v, v, 4, 5, 6, 7);
}

/// Turns the rows of a square of 4 x 4 into its columns.
inline void transpose(Four (&rows)[4]) noexcept {
  const Four ac_left = __builtin_shufflevector(rows[0], rows[2], 0, 4, 1, 5);
  const Four ac_right = __builtin_shufflevector(rows[0], rows[2], 2, 6, 3, 7);
  const Four bd_left = __builtin_shufflevector(rows[1], rows[3], 0, 4, 1, 5);
  const Four bd_right = __builtin_shufflevector(rows[1], rows[3], 2, 6, 3, 7);
  rows[0] = __builtin_shufflevector(ac_left, bd_left, 0, 4, 1, 5);
  rows[1] = __builtin_shufflevector(ac_left, bd_left, 2, 6, 3, 7);
  rows[2] = __builtin_shufflevector(ac_right, bd_right, 0, 4, 1, 5);
  rows[3] = __builtin_shufflevector(ac_right, bd_right, 2, 6, 3, 7);
}

}  // namespace mnemon
