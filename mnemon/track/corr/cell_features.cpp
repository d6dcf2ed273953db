// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/cell_features.hpp>

#include <mnemon/base/clones.hpp>
#include <mnemon/signal/windows.hpp>

namespace mnemon {
namespace {

constexpr int kChannels = CellFeatures::kChannels;
constexpr int kCell = GradientHistogram::kCell;
static_assert(kChannels % 8 == 0);
constexpr int kCentred = kChannels - CellFeatures::kGrey;

// The mean of each cell's grey samples, as a share of white, into one channel of a row of cells.
void shrink_grey(ImageView<const float> grey, int row, float* out, int cells) noexcept {
  for (int c = 0; c < cells; ++c) {
    float sum = 0;
    for (int r = 0; r < kCell; ++r)
      for (int k = 0; k < kCell; ++k) sum += grey.row(kCell * row + r)[kCell * c + k];
    out[static_cast<std::ptrdiff_t>(c) * kChannels] = sum * (1.0f / (255 * kCell * kCell));
  }
}

MNEMON_CLONES void sum_last_channels(const float* __restrict stack, int cells,
                                     float* __restrict sum) noexcept {
  for (int i = 0; i < cells; ++i)
    for (int k = 0; k < kCentred; ++k) sum[k] += stack[i * kChannels + CellFeatures::kGrey + k];
}

MNEMON_CLONES void centre_and_taper(float* __restrict stack, int cells, const float* __restrict shift,
                                    const float* __restrict taper) noexcept {
  for (int i = 0; i < cells; ++i)
    for (int k = 0; k < kChannels; ++k)
      stack[i * kChannels + k] = (stack[i * kChannels + k] - shift[k]) * taper[i];
}

}  // namespace

CellFeatures::CellFeatures(int rows, int cols, double max_w, double max_h)
    : sampler_(kCell * rows, kCell * cols, max_w, max_h),
      gradients_(rows, cols),
      colours_(kCell * rows, kCell * cols),
      taper_(cosine_window(rows, cols)),
      grey_(kCell * rows, kCell * cols),
      stack_(rows, cols, kChannels) {}

Image<float> CellFeatures::channels_picture() const {
  constexpr int kAcross = 8;
  const int rows = stack_.rows();
  const int cols = stack_.cols();
  Image<float> picture(kChannels / kAcross * rows, kAcross * cols);
  for (int k = 0; k < kChannels; ++k)
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < cols; ++c)
        picture(k / kAcross * rows + r, k % kAcross * cols + c) = stack_(r, c, k);
  return picture;
}

ImageView<const float> CellFeatures::take(ImageView<const Byte> rgb, const OrientedBox& window) noexcept {
  sampler_.sample_into(rgb, window, grey_.view());
  gradients_.describe_into(grey_.view(), stack_.view());
  for (int r = 0; r < stack_.rows(); ++r)
    shrink_grey(grey_.view(), r, stack_.view().row(r) + kGrey, stack_.cols());
  soft_colours_into(colours_.sample(rgb, window), stack_.view(), kColour);
  float shift[kChannels] = {};
  const int cells = stack_.rows() * stack_.cols();
  sum_last_channels(stack_.view().data, cells, shift + kGrey);
  for (float& value : shift) value /= static_cast<float>(cells);
  centre_and_taper(stack_.view().data, cells, shift, taper_.view().data);
  return stack();
}

}  // namespace mnemon
