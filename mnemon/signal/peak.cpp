// SPDX-License-Identifier: MIT
#include <mnemon/signal/peak.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <span>

#include <fmt/format.h>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/image/arithmetic.hpp>

namespace mnemon {
namespace {

constexpr int kLanes = 16;
constexpr int kBlock = 256;

MNEMON_CLONES float highest_of(const float* values, int count) noexcept {
  std::array<float, kLanes> lane;
  lane.fill(values[0]);
  int i = 0;
  for (; i + kLanes <= count; i += kLanes)
    for (int k = 0; k < kLanes; ++k) lane[k] = lane[k] < values[i + k] ? values[i + k] : lane[k];
  float highest = *std::max_element(lane.begin(), lane.end());
  for (; i < count; ++i) highest = std::max(highest, values[i]);
  return highest;
}

// The stretches of a view that lie without gaps in memory: all of it, or its rows. `use(data, count)`.
template <class Use>
void for_each_stretch(ImageView<const float> view, Use use) {
  if (view.is_contiguous()) {
    use(view.data, static_cast<int>(view.size()));
    return;
  }
  for (int r = 0; r < view.rows; ++r) use(view.row(r), view.cols);
}

void check_inside(ImageView<const float> response, Cell at) {
  if (at.row < 0 || at.row >= response.rows || at.col < 0 || at.col >= response.cols)
    throw CallError(fmt::format("cell ({}, {}) is outside a response of {} x {}", at.row, at.col,
                                response.rows, response.cols));
}

double parabola_peak(double before, double at, double after) noexcept {
  const double curvature = before - 2 * at + after;
  if (!(curvature < 0)) return 0;
  return std::clamp(0.5 * (before - after) / curvature, -0.5, 0.5);
}

}  // namespace

Cell highest_cell(ImageView<const float> response) noexcept {
  // Block by block, so that only the block that holds the peak is searched sample by sample.
  const float* best = response.data;
  int best_count = 1;
  float highest = *response.data;
  for_each_stretch(response, [&](const float* data, int count) {
    for (int i = 0; i < count; i += kBlock) {
      const int length = std::min(kBlock, count - i);
      const float here = highest_of(data + i, length);
      if (!(here > highest)) continue;
      highest = here;
      best = data + i;
      best_count = length;
    }
  });
  const std::ptrdiff_t at = std::find(best, best + best_count, highest) - response.data;
  return {static_cast<int>(at / response.stride), static_cast<int>(at % response.stride)};
}

Point peak_offset(ImageView<const float> response, Cell at) {
  check_inside(response, at);
  const auto [r, c] = at;
  Point offset;
  if (c > 0 && c + 1 < response.cols)
    offset.x = parabola_peak(response(r, c - 1), response(r, c), response(r, c + 1));
  if (r > 0 && r + 1 < response.rows)
    offset.y = parabola_peak(response(r - 1, c), response(r, c), response(r + 1, c));
  return offset;
}

double peak_to_sidelobe(ImageView<const float> response, Cell at, int radius) {
  check_inside(response, at);
  const int left = std::max(0, at.col - radius);
  const int right = std::min(response.cols, at.col + radius + 1);
  const int top = std::max(0, at.row - radius);
  const int bottom = std::min(response.rows, at.row + radius + 1);
  double sum = 0;
  double squares = 0;
  for_each_stretch(response, [&](const float* data, int count) {
    const std::span<const float> values(data, static_cast<std::size_t>(count));
    sum += sum_of(values);
    squares += sum_of_squares(values);
  });
  for (int r = top; r < bottom; ++r)
    for (int c = left; c < right; ++c) {
      sum -= response(r, c);
      squares -= static_cast<double>(response(r, c)) * response(r, c);
    }
  const double count =
      static_cast<double>(response.size()) - static_cast<double>(bottom - top) * (right - left);
  if (count <= 0) return 0;
  const double mean = sum / count;
  const double spread = std::sqrt(std::max(0.0, squares / count - mean * mean));
  const double height = response(at.row, at.col) - mean;
  // A flat rest leaves only rounding: about 1e-7 of the level and of the peak that was taken away.
  const double rounding = 1e-6 * (std::abs(mean) + std::abs(height));
  return spread > rounding ? height / spread : 0;
}

}  // namespace mnemon
