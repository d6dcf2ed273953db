// SPDX-License-Identifier: MIT
#include <mnemon/image/turned_window.hpp>

#include <cmath>
#include <numbers>
#include <utility>

namespace mnemon {

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
  around_.sample_into(rgb, around, wide_.view());
  // From a sample to its place in the window, turned about the middle, to its place in the samples of the wide one.
  const double radians = window.angle_deg * std::numbers::pi / 180;
  const double across = window.box.w / out.cols;
  const double down = window.box.h / out.rows;
  const double per_x = wide_.cols() / around.w;
  const double per_y = wide_.rows() / around.h;
  Affine map;
  map.a = std::cos(radians) * across * per_x;
  map.b = -std::sin(radians) * down * per_x;
  map.d = std::sin(radians) * across * per_y;
  map.e = std::cos(radians) * down * per_y;
  map.c = 0.5 * (wide_.cols() - map.a * out.cols - map.b * out.rows);
  map.f = 0.5 * (wide_.rows() - map.d * out.cols - map.e * out.rows);
  warp_into(std::as_const(wide_).view(), map, out);
}

}  // namespace mnemon
