// SPDX-License-Identifier: MIT
#include <mnemon/vision/box_contrast.hpp>

#include <cmath>

#include <mnemon/vision/colour_index.hpp>

namespace mnemon {
namespace {

constexpr int kSamplesASide = 32;
constexpr double kSampled = 1.5;  // sizes of the box
constexpr double kAround = 1.1;   // from which on it is the surroundings

struct Mean {
  double sum = 0;
  int count = 0;
  void add(double value) noexcept {
    sum += value;
    ++count;
  }
  [[nodiscard]] double value() const noexcept { return count > 0 ? sum / count : 0; }
};

}  // namespace

double box_contrast(ImageView<const Byte> rgb, const float* table, const Box& box) noexcept {
  Mean inside;
  Mean around;
  const Point middle = centre(box);
  for (int i = 0; i < kSamplesASide; ++i) {
    const double v = kSampled * (2 * (i + 0.5) / kSamplesASide - 1);  // 1 at the box's edge
    const double y = std::floor(middle.y + 0.5 * v * box.h);
    if (!(y >= 0 && y < rgb.rows)) continue;
    const Byte* const row = rgb.row(static_cast<int>(y));
    for (int k = 0; k < kSamplesASide; ++k) {
      const double u = kSampled * (2 * (k + 0.5) / kSamplesASide - 1);
      const double x = std::floor(middle.x + 0.5 * u * box.w);
      if (!(x >= 0 && x < rgb.cols)) continue;
      const double weight = table[colour_index(row + 3 * static_cast<int>(x))];
      if (u * u + v * v < 1)
        inside.add(weight);
      else if (std::abs(u) > kAround || std::abs(v) > kAround)
        around.add(weight);
    }
  }
  return inside.value() - around.value();
}

}  // namespace mnemon
