// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/geometry/box.hpp>
#include <mnemon/image/image.hpp>

namespace mnemon {

/// One sample of a picture, by its row and column.
struct Cell {
  int row = 0;  ///< From 0.
  int col = 0;  ///< From 0.
  bool operator==(const Cell&) const = default;
};

/// The largest sample; of equal ones the first in reading order.
/// \param response  rows x columns, one channel, at least one sample; every value finite.
[[nodiscard]] Cell highest_cell(ImageView<const float> response) noexcept;

/// Where a response peaks between its samples: a parabola through three samples an axis, exact for a
/// quadratic peak.
/// \param response  rows x columns, one channel; every value finite.
/// \param at        Row and column of the largest sample.
/// \returns  Offset (x, y) from that sample, each in [-0.5, 0.5] samples; 0 along an axis where `at` is on
///           the border or its neighbours are as high.
/// \throws CallError  if `at` lies outside `response`.
/// Allocates nothing. Source: Tian and Huhns 1986, correlation interpolation; ours treats the axes apart.
[[nodiscard]] Point peak_offset(ImageView<const float> response, Cell at);

/// How far the peak stands above the rest of the response: (peak - mean) / standard deviation, the two over
/// all samples but a square around the peak. 0 where the rest is flat or there is no rest.
/// \param radius  The square reaches this many samples from `at` each way.
/// \throws CallError  if `at` lies outside `response`.
/// Source: Bolme, Beveridge, Draper and Lui, CVPR 2010, section 3.5 (the square is 11 x 11 there).
[[nodiscard]] double peak_to_sidelobe(ImageView<const float> response, Cell at, int radius);

}  // namespace mnemon
