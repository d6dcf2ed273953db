// SPDX-License-Identifier: MIT
#pragma once
#include <span>
/// \file
/// Sums and elementwise functions over floats, in an order that does not depend on the processor.
namespace mnemon {

/// The sum, gathered in sixteen parts.
[[nodiscard]] float sum_of(std::span<const float> values) noexcept;

/// The sum of squares, gathered in sixteen parts.
[[nodiscard]] float sum_of_squares(std::span<const float> values) noexcept;

/// Replaces each v by log(1 + v).
/// \param values  Each from 0 to 1e6.
/// A polynomial in place of the C library's function, so that the loop vectorises and gives the same bits
/// everywhere; within 1e-5 of it.
void log1p_in_place(std::span<float> values) noexcept;

/// Brings the values to mean 0 and a sum of squares of 1, then multiplies them by `taper`, element by
/// element. Values that are all alike become 0.
void normalise_and_taper(std::span<float> values, std::span<const float> taper) noexcept;

}  // namespace mnemon
