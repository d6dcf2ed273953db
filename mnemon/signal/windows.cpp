// SPDX-License-Identifier: MIT
#include <mnemon/signal/windows.hpp>

#include <cmath>
#include <numbers>
#include <vector>

namespace mnemon {
namespace {

std::vector<double> cosine_line(int count) {
  std::vector<double> line(count);
  for (int i = 0; i < count; ++i) line[i] = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * (i + 0.5) / count);
  return line;
}

}  // namespace

Image<float> cosine_window(int rows, int cols) {
  const std::vector<double> down = cosine_line(rows);
  const std::vector<double> across = cosine_line(cols);
  Image<float> window(rows, cols);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) window(r, c) = static_cast<float>(down[r] * across[c]);
  return window;
}

Image<float> gaussian_goal(int rows, int cols, Point middle, double sigma_px) {
  Image<float> goal(rows, cols);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      const double dx = c + 0.5 - middle.x;
      const double dy = r + 0.5 - middle.y;
      goal(r, c) = static_cast<float>(std::exp(-(dx * dx + dy * dy) / (2 * sigma_px * sigma_px)));
    }
  return goal;
}

}  // namespace mnemon
