// SPDX-License-Identifier: MIT
#include <mnemon/image/resample.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <cstring>

#include <mnemon/base/clones.hpp>
#include <mnemon/base/lanes.hpp>
#include <mnemon/image/bilinear.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void grey_row(const Byte* __restrict rgb, float* __restrict grey, int count) noexcept {
  for (int i = 0; i < count; ++i)
    grey[i] = 0.299f * static_cast<float>(rgb[3 * i]) + 0.587f * static_cast<float>(rgb[3 * i + 1]) +
              0.114f * static_cast<float>(rgb[3 * i + 2]);
}

// Samples down the rows of a tile of that width: every output row is its taps' rows, weighted.
MNEMON_CLONES void blend_rows(const float* __restrict tile, int width, const int* __restrict first,
                              const float* __restrict weights, int outputs, int taps,
                              float* __restrict out) noexcept {
  for (int r = 0; r < outputs; ++r) {
    const float* row = tile + static_cast<std::ptrdiff_t>(first[r]) * width;
    float* sum = out + static_cast<std::ptrdiff_t>(r) * width;
    // The first three at once, as there are always so many.
    const float weight[3] = {weights[r], weights[outputs + r], weights[2 * outputs + r]};
    for (int i = 0; i < width; ++i)
      sum[i] = weight[0] * row[i] + weight[1] * row[width + i] + weight[2] * row[2 * width + i];
    for (int k = 3; k < taps; ++k) {
      const float* next = row + static_cast<std::ptrdiff_t>(k) * width;
      for (int i = 0; i < width; ++i) sum[i] += weights[k * outputs + r] * next[i];
    }
  }
}

// Turns the rows of a square of 4 x 4 into columns, in registers.
void transpose_square(const float* in, std::ptrdiff_t in_step, float* out, std::ptrdiff_t out_step) noexcept {
  Four square[4];
  for (int i = 0; i < 4; ++i) square[i] = load_four(in + i * in_step);
  transpose(square);
  for (int i = 0; i < 4; ++i) store(square[i], out + i * out_step);
}

// Turns rows into columns, `out_step` apart, square by square, and what is left over one by one. Without clones: left to itself
// the compiler gathers, which is slow on many processors. 2.5 times as fast as a plain loop. Blocks of 16 x 16 fill whole lines
// of the cache, of which rows of 64 or 128 samples keep few.
void transpose_all(const float* __restrict in, int rows, int cols, float* __restrict out,
                   std::ptrdiff_t out_step) noexcept {
  constexpr int kBlock = 16;
  const int whole_rows = rows / 4 * 4;
  const int whole_cols = cols / 4 * 4;
  const auto from = [&](int r, int c) { return in + static_cast<std::ptrdiff_t>(r) * cols + c; };
  const auto to = [&](int r, int c) { return out + c * out_step + r; };
  for (int top = 0; top < whole_rows; top += kBlock)
    for (int left = 0; left < whole_cols; left += kBlock)
      for (int r = top; r < std::min(top + kBlock, whole_rows); r += 4)
        for (int c = left; c < std::min(left + kBlock, whole_cols); c += 4)
          transpose_square(from(r, c), cols, to(r, c), out_step);
  for (int r = 0; r < rows; ++r)
    for (int c = r < whole_rows ? whole_cols : 0; c < cols; ++c) *to(r, c) = *from(r, c);
}

void blend(const LineTaps& taps, const float* tile, int width, float* out) noexcept {
  blend_rows(tile, width, taps.first().data(), taps.weights(0).data(), taps.outputs(), taps.taps(), out);
}

// Pixels [first, first + count) of a picture's row; past the row's ends its end pixels again.
void copy_stretch(const Byte* rgb, int cols, int first, int count, Byte* out) noexcept {
  const int left = std::clamp(-first, 0, count);
  const int right = std::clamp(first + count - cols, 0, count);
  const int inside = std::max(0, count - left - right);
  std::copy_n(rgb + 3 * (first + left), 3 * inside, out + 3 * left);
  for (int i = 0; i < left; ++i) std::copy_n(rgb, 3, out + 3 * i);
  for (int i = count - right; i < count; ++i) std::copy_n(rgb + 3 * (cols - 1), 3, out + 3 * i);
}

MNEMON_CLONES void add_weighted(const Byte* __restrict bytes, float weight, float* __restrict sum,
                                int count) noexcept {
  for (int i = 0; i < count; ++i) sum[i] += weight * static_cast<float>(bytes[i]);
}

// Blends the pixels of a line, its edge repeated, and rounds.
template <int kChannels>
void blend_pixels(const float* line, int cols, const LineTaps& taps, Byte* out) noexcept {
  const float* weights = taps.weights(0).data();
  for (int c = 0; c < taps.outputs(); ++c) {
    const int first = taps.origin() + taps.first()[c];
    std::array<float, kChannels> sum;
    sum.fill(0.5f);
    for (int k = 0; k < taps.taps(); ++k) {
      const float weight = weights[static_cast<std::ptrdiff_t>(k) * taps.outputs() + c];
      const float* source =
          line + static_cast<std::ptrdiff_t>(std::clamp(first + k, 0, cols - 1)) * kChannels;
      for (int channel = 0; channel < kChannels; ++channel) sum[channel] += weight * source[channel];
    }
    for (int channel = 0; channel < kChannels; ++channel)
      out[c * kChannels + channel] = static_cast<Byte>(std::clamp(sum[channel], 0.0f, 255.0f));
  }
}

using TwoPairs = double __attribute__((vector_size(16)));

// Two neighbours each at two places.
Four load_pairs(const float* first, const float* second) noexcept {
  TwoPairs pairs;
  std::memcpy(&pairs, first, sizeof(double));
  double other;
  std::memcpy(&other, second, sizeof other);
  pairs[1] = other;
  return reinterpret_cast<Four>(pairs);
}

// Between the two neighbours at each of four places.
Four between_pairs(const float* in, FourInts places, Four share) noexcept {
  const Four first = load_pairs(in + places[0], in + places[1]);
  const Four second = load_pairs(in + places[2], in + places[3]);
  const Four left = __builtin_shufflevector(first, second, 0, 2, 4, 6);
  const Four right = __builtin_shufflevector(first, second, 1, 3, 5, 7);
  return left + share * (right - left);
}

// A line of places (x + step_x i, y + step_y i), counted from the middles of pixels, all of which lie between pixels: four
// at a time, some of the last twice where four do not go into the line. At least four places.
MNEMON_TABLE_CLONES void warp_line(const float* __restrict in, int stride, float x, float y, float step_x,
                                   float step_y, int count, float* __restrict out) noexcept {
  for (int begin = 0; begin < count; begin += 4) {
    const int i = std::min(begin, count - 4);
    const Four at = Four{0, 1, 2, 3} + static_cast<float>(i);
    const Four at_x = x + step_x * at;
    const Four at_y = y + step_y * at;
    const FourInts left = __builtin_convertvector(at_x, FourInts);
    const FourInts top = __builtin_convertvector(at_y, FourInts);
    const FourInts places = top * stride + left;
    const Four across = at_x - __builtin_convertvector(left, Four);
    const Four down = at_y - __builtin_convertvector(top, Four);
    const Four upper = between_pairs(in, places, across);
    const Four lower = between_pairs(in + stride, places, across);
    store(upper + down * (lower - upper), out + i);
  }
}

// How many input samples an output sample reaches, `scale` of them long.
int taps_for(double scale) noexcept { return static_cast<int>(std::ceil(2 * std::max(1.0, scale))) + 1; }

}  // namespace

LineTaps::LineTaps(int outputs, double max_length)
    : outputs_(outputs),
      max_taps_(taps_for(max_length / outputs)),
      max_reach_(static_cast<int>(std::ceil(max_length + 2 * std::max(1.0, max_length / outputs))) + 3),
      first_(outputs),
      weights_(static_cast<std::size_t>(max_taps_) * outputs) {}

void LineTaps::plan(double begin, double length) noexcept {
  const double scale = length / outputs_;
  const double radius = std::max(1.0, scale);
  taps_ = std::min(max_taps_, taps_for(scale));
  // Rounded down by hand: without newer instructions std::floor is a call.
  const auto lowest = [&](int i) {
    const double at = begin + (i + 0.5) * scale - radius + 0.5;
    const int towards_zero = static_cast<int>(at);
    return towards_zero > at ? towards_zero - 1 : towards_zero;
  };
  origin_ = lowest(0);
  reach_ = lowest(outputs_ - 1) + taps_ - origin_;
  MNEMON_ASSERT(reach_ <= max_reach_);
  const double slope = 1 / radius;
  for (int i = 0; i < outputs_; ++i) {
    const int low = lowest(i);
    first_[i] = low - origin_;
    const float before =
        static_cast<float>((begin + (i + 0.5) * scale - low - 0.5) * slope);  // middle to first tap
    float sum = 0;
    for (int k = 0; k < taps_; ++k) {
      const float weight = std::max(0.0f, 1 - std::abs(static_cast<float>(k * slope) - before));
      weights_[static_cast<std::size_t>(k) * outputs_ + i] = weight;
      sum += weight;
    }
    const float scale_to_one = 1 / sum;
    for (int k = 0; k < taps_; ++k) weights_[static_cast<std::size_t>(k) * outputs_ + i] *= scale_to_one;
  }
}

GreyWindow::GreyWindow(int rows, int cols, double max_w, double max_h)
    : down_(rows, max_h), across_(cols, max_w) {
  const std::size_t pixels = static_cast<std::size_t>(down_.max_reach()) * across_.max_reach();
  const std::size_t shrunk = static_cast<std::size_t>(rows) * std::max(across_.max_reach(), cols);
  bytes_ = Scratch<Byte>(3 * pixels);
  tile_ = Scratch<float>(pixels);
  shrunk_ = Scratch<float>(shrunk);
  turned_ = Scratch<float>(shrunk);
}

ImageView<const float> GreyWindow::pixels(ImageView<const Byte> rgb, int top, int left, int rows,
                                          int cols) noexcept {
  MNEMON_ASSERT(rows <= down_.max_reach() && cols <= across_.max_reach());
  for (int r = 0; r < rows; ++r)
    copy_stretch(rgb.row(std::clamp(top + r, 0, rgb.rows - 1)), rgb.cols, left, cols,
                 bytes_.get() + 3 * static_cast<std::ptrdiff_t>(r) * cols);
  // The whole tile in one loop: rows alone are too short to vectorise well.
  grey_row(bytes_.get(), tile_.get(), rows * cols);
  return {tile_.get(), rows, cols, 1, cols};
}

void GreyWindow::sample_into(ImageView<const Byte> rgb, const Box& window, ImageView<float> out) noexcept {
  down_.plan(window.y, window.h);
  across_.plan(window.x, window.w);
  const int width = across_.reach();
  const float* tile = pixels(rgb, down_.origin(), across_.origin(), down_.reach(), width).data;
  // Down, then across as another way down: on transposed rows both run along contiguous memory.
  blend(down_, tile, width, shrunk_.get());
  transpose_all(shrunk_.get(), out.rows, width, turned_.get(), out.rows);
  blend(across_, turned_.get(), out.rows, shrunk_.get());
  transpose_all(shrunk_.get(), out.cols, out.rows, out.data, out.stride);
}

Resizer::Resizer(int from_rows, int from_cols, int rows, int cols, int channels)
    : down_(rows, from_rows),
      across_(cols, from_cols),
      line_(static_cast<std::size_t>(from_cols) * static_cast<std::size_t>(channels)) {
  down_.plan(0, from_rows);
  across_.plan(0, from_cols);
}

void Resizer::resize_into(ImageView<const Byte> rgb, ImageView<Byte> out) noexcept {
  for (int r = 0; r < out.rows; ++r) {
    std::ranges::fill(line_, 0.0f);
    for (int k = 0; k < down_.taps(); ++k) {
      const int source = std::clamp(down_.origin() + down_.first()[r] + k, 0, rgb.rows - 1);
      add_weighted(rgb.row(source), down_.weights(k)[r], line_.data(), rgb.row_length());
    }
    if (rgb.channels == 3)
      blend_pixels<3>(line_.data(), rgb.cols, across_, out.row(r));
    else
      blend_pixels<1>(line_.data(), rgb.cols, across_, out.row(r));
  }
}

Image<Byte> resized(ImageView<const Byte> rgb, int rows, int cols) {
  Image<Byte> out(rows, cols, rgb.channels);
  Resizer(rgb.rows, rgb.cols, rows, cols, rgb.channels).resize_into(rgb, out.view());
  return out;
}

Image<Byte> resized_to_width(ImageView<const Byte> rgb, int cols) {
  return resized(rgb, std::max(1, static_cast<int>(std::lround(1.0 * rgb.rows * cols / rgb.cols))), cols);
}

void warp_into(ImageView<const float> in, const Affine& map, ImageView<float> out) noexcept {
  for (int r = 0; r < out.rows; ++r) {
    float* to = out.row(r);
    const double x = map.a * 0.5 + map.b * (r + 0.5) + map.c - 0.5;
    const double y = map.d * 0.5 + map.e * (r + 0.5) + map.f - 0.5;
    if (in.channels == 1 && out.cols >= 4 && stays_within(x, map.a, out.cols, in.cols - 1) &&
        stays_within(y, map.d, out.cols, in.rows - 1)) {
      warp_line(in.data, static_cast<int>(in.stride), static_cast<float>(x), static_cast<float>(y),
                static_cast<float>(map.a), static_cast<float>(map.d), out.cols, to);
      continue;
    }
    for (int c = 0; c < out.cols; ++c) {
      const Spot spot = spot_of(map.a * (c + 0.5) + map.b * (r + 0.5) + map.c,
                                map.d * (c + 0.5) + map.e * (r + 0.5) + map.f, in.rows, in.cols);
      const float* upper = in.row(spot.top);
      const float* lower = in.row(spot.bottom);
      for (int channel = 0; channel < in.channels; ++channel)
        to[c * in.channels + channel] = blend(upper, lower, spot, in.channels, channel);
    }
  }
}

Image<Byte> halved(ImageView<const Byte> rgb) {
  Image<Byte> half(std::max(1, rgb.rows / 2), std::max(1, rgb.cols / 2), 3);
  for (int r = 0; r < half.rows(); ++r) {
    const Byte* upper = rgb.row(std::min(2 * r, rgb.rows - 1));
    const Byte* lower = rgb.row(std::min(2 * r + 1, rgb.rows - 1));
    Byte* to = half.view().row(r);
    const int right = rgb.cols > 1 ? 3 : 0;
    for (int c = 0; c < half.cols(); ++c)
      for (int k = 0; k < 3; ++k) {
        const int at = 6 * c + k;
        to[3 * c + k] =
            static_cast<Byte>((upper[at] + upper[at + right] + lower[at] + lower[at + right] + 2) / 4);
      }
  }
  return half;
}

}  // namespace mnemon
