// SPDX-License-Identifier: MIT
#include <mnemon/vision/colour_index.hpp>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/lanes.hpp>
#include <mnemon/image/bilinear.hpp>

namespace mnemon {
namespace {

// The pixels that the middles of `places.size()` equal parts of [begin, begin + length) fall on, times `step`.
void nearest_pixels(double begin, double length, int pixels, int step, std::vector<int>& places) noexcept {
  const double part = length / static_cast<double>(places.size());
  for (std::size_t i = 0; i < places.size(); ++i) {
    const double at = std::clamp(begin + (static_cast<double>(i) + 0.5) * part, 0.0, pixels - 1.0);
    places[i] = static_cast<int>(at) * step;
  }
}

using FourColours = ColourIndex __attribute__((vector_size(8)));
static_assert(std::endian::native == std::endian::little, "words of pixels have red in their lowest byte");

// A pixel and the byte after it.
int word_at(const Byte* rgb) noexcept {
  int word;
  std::memcpy(&word, rgb, sizeof word);
  return word;
}

// The colours of pixels at four places in memory, each with a byte after it. As colour_index(), four at a time.
void four_colours(const Byte* rgb, FourInts places, ColourIndex* out) noexcept {
  const FourInts words{word_at(rgb + places[0]), word_at(rgb + places[1]), word_at(rgb + places[2]),
                       word_at(rgb + places[3])};
  const FourInts indices = (words & 0xf0) << 4 | (words >> 8 & 0xf0) | (words >> 20 & 0xf);
  const FourColours colours = __builtin_convertvector(indices, FourColours);
  std::memcpy(out, &colours, sizeof colours);
}

// The colours of so many pixels, at least four, at these places in a line; some of the last twice where four do not go
// into their number.
MNEMON_TABLE_CLONES void colours_at(const Byte* line, const int* places, int count,
                                    ColourIndex* __restrict out) noexcept {
  for (int begin = 0; begin < count; begin += 4) {
    const int i = std::min(begin, count - 4);
    four_colours(line, load_four(places + i), out + i);
  }
}

// The colours of the pixels that a line of at least four places falls on, all in the picture but for its last column.
MNEMON_TABLE_CLONES void colours_along(ImageView<const Byte> rgb, float x, float y, float step_x,
                                       float step_y, int count, ColourIndex* __restrict out) noexcept {
  const int stride = static_cast<int>(rgb.stride);
  for (int begin = 0; begin < count; begin += 4) {
    const int i = std::min(begin, count - 4);
    const Four at = Four{0, 1, 2, 3} + static_cast<float>(i);
    const FourInts cols = __builtin_convertvector(x + step_x * at, FourInts);
    const FourInts rows = __builtin_convertvector(y + step_y * at, FourInts);
    four_colours(rgb.data, rows * stride + 3 * cols, out + i);
  }
}

MNEMON_TABLE_CLONES void look_up(const Byte* __restrict rgb, int pixels, const float* __restrict table,
                                 float unit, float* __restrict weights) noexcept {
  for (int i = 0; i < pixels; ++i) {
    const int red = rgb[3 * i] >> 4;
    const int green = rgb[3 * i + 1] >> 4;
    const int blue = rgb[3 * i + 2] >> 4;
    weights[i] = unit * table[red << 8 | green << 4 | blue];
  }
}

MNEMON_TABLE_CLONES void look_up(const ColourIndex* __restrict colours, const float* __restrict table,
                                 int count, float* __restrict out) noexcept {
  for (int i = 0; i < count; ++i) out[i] = table[colours[i]];
}

}  // namespace

void weigh_colours(const ColourIndex* colours, int count, const float* table, float* weights) noexcept {
  look_up(colours, table, count, weights);
}

void weigh_colours(const Byte* rgb, int pixels, const float* table, float unit, float* weights) noexcept {
  look_up(rgb, pixels, table, unit, weights);
}

std::array<float, 3> colour_of(ColourIndex index) noexcept {
  const auto middle = [](int level) { return (static_cast<float>(level) + 0.5f) / kColourLevels; };
  return {middle(index >> 8), middle(index >> 4 & 15), middle(index & 15)};
}

float hue_sixths(const std::array<float, 3>& rgb) noexcept {
  const auto [r, g, b] = rgb;
  const auto [low, high] = std::ranges::minmax(rgb);
  const float chroma = high - low;
  if (!(chroma > 0)) return 0;
  if (high == r) return g >= b ? (g - b) / chroma : 6 + (g - b) / chroma;
  if (high == g) return 2 + (b - r) / chroma;
  return 4 + (r - g) / chroma;
}

ImageView<const ColourIndex> ColourWindow::sample(ImageView<const Byte> rgb,
                                                  const OrientedBox& window) noexcept {
  if (is_upright(window))
    sample_upright(rgb, window.box);
  else
    sample_turned(rgb, window);
  return indices_.view();
}

void ColourWindow::sample_upright(ImageView<const Byte> rgb, const Box& window) noexcept {
  nearest_pixels(window.x, window.w, rgb.cols, 3, x_);
  nearest_pixels(window.y, window.h, rgb.rows, 1, y_);
  for (int r = 0; r < indices_.rows(); ++r) {
    const Byte* line = rgb.row(y_[r]);
    ColourIndex* out = indices_.view().row(r);
    // The picture's last pixel may have no byte after it.
    if (indices_.cols() >= 4 && (y_[r] < rgb.rows - 1 || x_.back() < 3 * (rgb.cols - 1)))
      colours_at(line, x_.data(), indices_.cols(), out);
    else
      for (int c = 0; c < indices_.cols(); ++c) out[c] = colour_index(line + x_[c]);
  }
}

void ColourWindow::sample_turned(ImageView<const Byte> rgb, const OrientedBox& window) noexcept {
  const int cols = indices_.cols();
  const Point middle = centre(window.box);
  const Point across = turned({window.box.w / cols, 0}, window.angle_deg);
  const Point down = turned({0, window.box.h / indices_.rows()}, window.angle_deg);
  for (int r = 0; r < indices_.rows(); ++r) {
    const double rows_on = r + 0.5 - 0.5 * indices_.rows();
    const double x = middle.x + rows_on * down.x + (0.5 - 0.5 * cols) * across.x;
    const double y = middle.y + rows_on * down.y + (0.5 - 0.5 * cols) * across.y;
    ColourIndex* out = indices_.view().row(r);
    if (cols >= 4 && stays_within(x, across.x, cols, rgb.cols - 1) &&
        stays_within(y, across.y, cols, rgb.rows)) {
      colours_along(rgb, static_cast<float>(x), static_cast<float>(y), static_cast<float>(across.x),
                    static_cast<float>(across.y), cols, out);
      continue;
    }
    for (int c = 0; c < cols; ++c) {
      const int col = static_cast<int>(std::clamp(x + c * across.x, 0.0, rgb.cols - 1.0));
      const int row = static_cast<int>(std::clamp(y + c * across.y, 0.0, rgb.rows - 1.0));
      out[c] = colour_index(rgb.row(row) + 3 * static_cast<std::ptrdiff_t>(col));
    }
  }
}

}  // namespace mnemon
