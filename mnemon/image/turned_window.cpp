// SPDX-License-Identifier: MIT
#include <mnemon/image/turned_window.hpp>

#include <cmath>
#include <numbers>
#include <utility>

namespace mnemon {
namespace {

// From a sample of a turned window to its place in a picture that has the window's middle at `middle`, and `per_pixel`
// samples to each pixel.
Affine map_of(const OrientedBox& window, Point middle, Point per_pixel, ImageView<const float> out) noexcept {
  const double radians = window.angle_deg * std::numbers::pi / 180;
  const double across = window.box.w / out.cols;
  const double down = window.box.h / out.rows;
  Affine map;
  map.a = std::cos(radians) * across * per_pixel.x;
  map.b = -std::sin(radians) * down * per_pixel.x;
  map.d = std::sin(radians) * across * per_pixel.y;
  map.e = std::cos(radians) * down * per_pixel.y;
  map.c = middle.x - 0.5 * (map.a * out.cols + map.b * out.rows);
  map.f = middle.y - 0.5 * (map.d * out.cols + map.e * out.rows);
  return map;
}

}  // namespace

TurnedWindow::TurnedWindow(int rows, int cols, double max_w, double max_h)
    : upright_(rows, cols, max_w, max_h),
      wide_(static_cast<int>(std::ceil(std::hypot(rows, cols))),
            static_cast<int>(std::ceil(std::hypot(rows, cols)))) {
  const double longest = std::hypot(max_w, max_h);
  around_ = GreyWindow(wide_.rows(), wide_.cols(), longest, longest);
}

void TurnedWindow::sample_into(ImageView<const Byte> rgb, const OrientedBox& window,
                               ImageView<float> out) noexcept {
  if (is_upright(window)) {
    upright_.sample_into(rgb, window.box, out);
    return;
  }
  const Box around = upright_around(window);
  if (window.box.w <= out.cols && window.box.h <= out.rows) {
    const int left = static_cast<int>(std::floor(around.x)) - 1;
    const int top = static_cast<int>(std::floor(around.y)) - 1;
    const int cols = static_cast<int>(std::ceil(around.x + around.w)) + 1 - left;
    const int rows = static_cast<int>(std::ceil(around.y + around.h)) + 1 - top;
    const Point middle{window.box.x + 0.5 * window.box.w - left, window.box.y + 0.5 * window.box.h - top};
    warp_into(around_.pixels(rgb, top, left, rows, cols), map_of(window, middle, {1, 1}, out), out);
    return;
  }
  around_.sample_into(rgb, around, wide_.view());
  const Point middle{0.5 * wide_.cols(), 0.5 * wide_.rows()};
  const Point per_pixel{wide_.cols() / around.w, wide_.rows() / around.h};
  warp_into(std::as_const(wide_).view(), map_of(window, middle, per_pixel, out), out);
}

}  // namespace mnemon
