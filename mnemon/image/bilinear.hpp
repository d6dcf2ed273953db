// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// Where a place lies between the middles of four pixels; beyond the edge, on it.
struct Spot {
  int left;      ///< Of the four samples, column.
  int top;       ///< Row.
  int right;     ///< Column beside `left`, or `left` itself at the edge.
  int bottom;    ///< Row below `top`, or `top` itself at the edge.
  float across;  ///< Weight of the right ones, in [0, 1].
  float down;    ///< Weight of the lower ones, in [0, 1].
};

/// \param at_x, at_y  px, where the first pixel's middle is at (0.5, 0.5).
inline Spot spot_of(double at_x, double at_y, int rows, int cols) noexcept {
  const double x = std::clamp(at_x - 0.5, 0.0, static_cast<double>(cols - 1));
  const double y = std::clamp(at_y - 0.5, 0.0, static_cast<double>(rows - 1));
  const int left = static_cast<int>(x);
  const int top = static_cast<int>(y);
  return {left,
          top,
          std::min(left + 1, cols - 1),
          std::min(top + 1, rows - 1),
          static_cast<float>(x - left),
          static_cast<float>(y - top)};
}

/// Whether all of a line of places `at`, `at + step`, .. lies between 0 and `end`, with room for rounding them to single
/// precision in pictures of up to 40,000 px.
/// \param count  Places, at least 1.
inline bool stays_within(double at, double step, int count, double end) noexcept {
  constexpr double kRoom = 0.01;
  const double last = at + step * (count - 1);
  return std::min(at, last) >= kRoom && std::max(at, last) <= end - kRoom;
}

/// One of so many channels there, of the two rows that the spot lies between.
inline float blend(const float* upper, const float* lower, const Spot& spot, int channels,
                   int channel) noexcept {
  const int left = spot.left * channels + channel;
  const int right = spot.right * channels + channel;
  const float a = upper[left] + spot.across * (upper[right] - upper[left]);
  const float b = lower[left] + spot.across * (lower[right] - lower[left]);
  return a + spot.down * (b - a);
}

/// One place of a picture of one channel, px, between its pixels.
[[nodiscard]] inline float sampled(ImageView<const float> in, double x, double y) noexcept {
  const Spot spot = spot_of(x, y, in.rows, in.cols);
  return blend(in.row(spot.top), in.row(spot.bottom), spot, 1, 0);
}

}  // namespace mnemon
