// SPDX-License-Identifier: MIT
#include <mnemon/image/resample.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

MNEMON_CLONES void grey_row(const Byte* __restrict rgb, float* __restrict grey, int count) noexcept {
  for (int i = 0; i < count; ++i)
    grey[i] = 0.299f * static_cast<float>(rgb[3 * i]) + 0.587f * static_cast<float>(rgb[3 * i + 1]) +
              0.114f * static_cast<float>(rgb[3 * i + 2]);
}

MNEMON_CLONES void set_scaled(const float* __restrict in, float weight, float* __restrict out,
                              int count) noexcept {
  for (int i = 0; i < count; ++i) out[i] = weight * in[i];
}

MNEMON_CLONES void add_scaled(const float* __restrict in, float weight, float* __restrict out,
                              int count) noexcept {
  for (int i = 0; i < count; ++i) out[i] += weight * in[i];
}

MNEMON_CLONES void add_gathered(const float* __restrict in, const int* __restrict first,
                                const float* __restrict weights, float* __restrict out, int count) noexcept {
  for (int i = 0; i < count; ++i) out[i] += weights[i] * in[first[i]];
}

// Grey pixels [first, first + count) of a picture's row; past the row's ends its end pixels again.
void grey_stretch(const Byte* rgb, int cols, int first, int count, float* out) noexcept {
  const int left = std::clamp(-first, 0, count);
  const int right = std::clamp(first + count - cols, 0, count);
  const int inside = std::max(0, count - left - right);
  if (inside > 0) grey_row(rgb + 3 * (first + left), out + left, inside);
  float end = 0;
  if (left > 0) {
    grey_row(rgb, &end, 1);
    std::fill_n(out, left, end);
  }
  if (right > 0) {
    grey_row(rgb + 3 * (cols - 1), &end, 1);
    std::fill_n(out + count - right, right, end);
  }
}

}  // namespace

LineTaps::LineTaps(int outputs, double max_length)
    : outputs_(outputs),
      taps_(static_cast<int>(std::ceil(2 * std::max(1.0, max_length / outputs))) + 1),
      max_reach_(static_cast<int>(std::ceil(max_length + 2 * std::max(1.0, max_length / outputs))) + 3),
      first_(outputs),
      weights_(static_cast<std::size_t>(taps_) * outputs) {}

void LineTaps::plan(double begin, double length) noexcept {
  const double scale = length / outputs_;
  const double radius = std::max(1.0, scale);
  const auto lowest = [&](int i) {
    return static_cast<int>(std::floor(begin + (i + 0.5) * scale - radius - 0.5)) + 1;
  };
  origin_ = lowest(0);
  reach_ = lowest(outputs_ - 1) + taps_ - origin_;
  MNEMON_ASSERT(reach_ <= max_reach_);
  for (int i = 0; i < outputs_; ++i) {
    const int low = lowest(i);
    const double middle = begin + (i + 0.5) * scale;
    first_[i] = low - origin_;
    double sum = 0;
    for (int k = 0; k < taps_; ++k) sum += std::max(0.0, 1 - std::abs(low + k + 0.5 - middle) / radius);
    for (int k = 0; k < taps_; ++k) {
      const double weight = std::max(0.0, 1 - std::abs(low + k + 0.5 - middle) / radius);
      weights_[static_cast<std::size_t>(k) * outputs_ + i] = static_cast<float>(weight / sum);
    }
  }
}

GreyWindow::GreyWindow(int rows, int cols, double max_w, double max_h)
    : down_(rows, max_h),
      across_(cols, max_w),
      tile_(static_cast<std::size_t>(down_.max_reach()) * across_.max_reach()),
      line_(across_.max_reach()) {}

void GreyWindow::sample_into(ImageView<const Byte> rgb, const Box& window, ImageView<float> out) noexcept {
  down_.plan(window.y, window.h);
  across_.plan(window.x, window.w);
  const int width = across_.reach();
  for (int r = 0; r < down_.reach(); ++r) {
    const int source = std::clamp(down_.origin() + r, 0, rgb.rows - 1);
    grey_stretch(rgb.row(source), rgb.cols, across_.origin(), width, tile_.data() + r * width);
  }
  for (int r = 0; r < out.rows; ++r) {
    const float* tile = tile_.data() + static_cast<std::ptrdiff_t>(down_.first()[r]) * width;
    set_scaled(tile, down_.weights(0)[r], line_.data(), width);
    for (int k = 1; k < down_.taps(); ++k) add_scaled(tile + k * width, down_.weights(k)[r], line_.data(), width);
    std::fill_n(out.row(r), out.cols, 0.0f);
    for (int k = 0; k < across_.taps(); ++k)
      add_gathered(line_.data() + k, across_.first().data(), across_.weights(k).data(), out.row(r), out.cols);
  }
}

Image<Byte> resized(ImageView<const Byte> rgb, int rows, int cols) {
  LineTaps down(rows, rgb.rows);
  LineTaps across(cols, rgb.cols);
  down.plan(0, rgb.rows);
  across.plan(0, rgb.cols);
  Image<Byte> out(rows, cols, rgb.channels);
  std::vector<float> line(rgb.row_length());
  for (int r = 0; r < rows; ++r) {
    std::ranges::fill(line, 0.0f);
    for (int k = 0; k < down.taps(); ++k) {
      const Byte* source = rgb.row(std::clamp(down.origin() + down.first()[r] + k, 0, rgb.rows - 1));
      for (int i = 0; i < rgb.row_length(); ++i) line[i] += down.weights(k)[r] * static_cast<float>(source[i]);
    }
    for (int c = 0; c < cols; ++c)
      for (int channel = 0; channel < rgb.channels; ++channel) {
        float sum = 0.5f;
        for (int k = 0; k < across.taps(); ++k) {
          const int source = std::clamp(across.origin() + across.first()[c] + k, 0, rgb.cols - 1);
          sum += across.weights(k)[c] * line[source * rgb.channels + channel];
        }
        out(r, c, channel) = static_cast<Byte>(std::clamp(sum, 0.0f, 255.0f));
      }
  }
  return out;
}

void warp_into(ImageView<const float> in, const Affine& map, ImageView<float> out) noexcept {
  const auto clamped = [](double v, int size) { return std::clamp(v, 0.0, static_cast<double>(size - 1)); };
  for (int r = 0; r < out.rows; ++r)
    for (int c = 0; c < out.cols; ++c) {
      const double x = clamped(map.a * (c + 0.5) + map.b * (r + 0.5) + map.c - 0.5, in.cols);
      const double y = clamped(map.d * (c + 0.5) + map.e * (r + 0.5) + map.f - 0.5, in.rows);
      const int left = static_cast<int>(x);
      const int top = static_cast<int>(y);
      const int right = std::min(left + 1, in.cols - 1);
      const int bottom = std::min(top + 1, in.rows - 1);
      const float across = static_cast<float>(x - left);
      const float down = static_cast<float>(y - top);
      const float upper = in(top, left) + across * (in(top, right) - in(top, left));
      const float lower = in(bottom, left) + across * (in(bottom, right) - in(bottom, left));
      out(r, c) = upper + down * (lower - upper);
    }
}

}  // namespace mnemon
