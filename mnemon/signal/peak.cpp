// SPDX-License-Identifier: MIT
#include <mnemon/signal/peak.hpp>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

constexpr int kLanes = 16;

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

struct Sums {
  double sum = 0;
  double squares = 0;
};

MNEMON_CLONES void add_sums(const float* values, int count, Sums& sums) noexcept {
  std::array<float, kLanes> sum{};
  std::array<float, kLanes> squares{};
  int i = 0;
  for (; i + kLanes <= count; i += kLanes)
    for (int k = 0; k < kLanes; ++k) {
      sum[k] += values[i + k];
      squares[k] += values[i + k] * values[i + k];
    }
  for (int k = 0; i < count; ++i, ++k) {
    sum[k] += values[i];
    squares[k] += values[i] * values[i];
  }
  for (int k = 0; k < kLanes; ++k) {
    sums.sum += sum[k];
    sums.squares += squares[k];
  }
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
  Cell best;
  float highest = response(0, 0);
  for (int r = 0; r < response.rows; ++r) {
    const float here = highest_of(response.row(r), response.cols);
    if (r > 0 && !(here > highest)) continue;
    highest = here;
    const float* row = response.row(r);
    best = {r, static_cast<int>(std::find(row, row + response.cols, here) - row)};
  }
  return best;
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
  Sums sums;
  for (int r = 0; r < response.rows; ++r) {
    const float* row = response.row(r);
    const bool beside = r >= at.row - radius && r <= at.row + radius;
    if (!beside) {
      add_sums(row, response.cols, sums);
    } else {
      add_sums(row, left, sums);
      add_sums(row + right, response.cols - right, sums);
    }
  }
  const int rows_beside = std::min(response.rows, at.row + radius + 1) - std::max(0, at.row - radius);
  const double count = static_cast<double>(response.size()) - static_cast<double>(rows_beside) * (right - left);
  if (count <= 0) return 0;
  const double mean = sums.sum / count;
  const double spread = std::sqrt(std::max(0.0, sums.squares / count - mean * mean));
  const double height = response(at.row, at.col) - mean;
  // A flat response leaves only rounding, about 1e-7 of its level.
  return spread > 1e-6 * std::abs(mean) ? height / spread : 0;
}

}  // namespace mnemon
