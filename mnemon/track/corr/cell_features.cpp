// SPDX-License-Identifier: MIT
#include <mnemon/track/corr/cell_features.hpp>

#include <utility>

#include <mnemon/base/clones.hpp>
#include <mnemon/signal/windows.hpp>

namespace mnemon {
namespace {

constexpr int kChannels = CellFeatures::kChannels;
static_assert(kChannels % 8 == 0);
constexpr int kCentred = kChannels - CellFeatures::kGrey;

// The mean of each cell's grey samples, as a share of white, into one channel of a row of cells.
void shrink_grey(ImageView<const float> grey, int row, float* out, int cells) noexcept {
  for (int c = 0; c < cells; ++c) {
    float sum = 0;
    for (int r = 0; r < GradientHistogram::kCell; ++r)
      for (int k = 0; k < GradientHistogram::kCell; ++k)
        sum += grey.row(GradientHistogram::kCell * row + r)[GradientHistogram::kCell * c + k];
    out[static_cast<std::ptrdiff_t>(c) * kChannels] =
        sum * (1.0f / (255 * GradientHistogram::kCell * GradientHistogram::kCell));
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

CellFeatures::Grid::Grid(int rows, int cols, double max_w, double max_h)
    : sampler(GradientHistogram::kCell * rows, GradientHistogram::kCell * cols, max_w, max_h),
      gradients(rows, cols),
      grey(GradientHistogram::kCell * rows, GradientHistogram::kCell * cols) {}

void CellFeatures::Grid::describe(ImageView<const Byte> rgb, const OrientedBox& window,
                                  ImageView<float> cells) noexcept {
  sampler.sample_into(rgb, window, grey.view());
  gradients.describe_into(grey.view(), cells);
  for (int r = 0; r < cells.rows; ++r) shrink_grey(grey.view(), r, cells.row(r) + kGrey, cells.cols);
}

CellFeatures::CellFeatures(int rows, int cols, double max_w, double max_h)
    : max_size_{max_w, max_h},
      whole_(rows, cols, max_w, max_h),
      colours_(GradientHistogram::kCell * rows, GradientHistogram::kCell * cols),
      taper_(cosine_window(rows, cols)),
      stack_(rows, cols, kChannels) {}

void CellFeatures::keep_to_middle(int rows, int cols) {
  if (rows >= stack_.rows() && cols >= stack_.cols()) return;
  middle_.emplace(rows, cols, max_size_.x * cols / stack_.cols(), max_size_.y * rows / stack_.rows());
  target_ = Image<float>(stack_.rows(), stack_.cols(), kChannels);
}

Image<float> CellFeatures::channels_picture() const {
  constexpr int kAcross = 8;  // channels of the picture side by side
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
  whole_.describe(rgb, window, stack_.view());
  soft_colours_into(colours_.sample(rgb, window), stack_.view(), kColour);
  const int cells = stack_.rows() * stack_.cols();
  shift_ = {};
  sum_last_channels(stack_.view().data, cells, shift_.data() + kGrey);
  for (float& value : shift_) value /= static_cast<float>(cells);
  centre_and_taper(stack_.view().data, cells, shift_.data(), taper_.view().data);
  return stack();
}

ImageView<const float> CellFeatures::take_target(ImageView<const Byte> rgb,
                                                 const OrientedBox& window) noexcept {
  if (!middle_) return take(rgb, window);
  const int rows = middle_->grey.rows() / GradientHistogram::kCell;
  const int cols = middle_->grey.cols() / GradientHistogram::kCell;
  const int top = (stack_.rows() - rows) / 2;
  const int left = (stack_.cols() - cols) / 2;
  const ImageView<float> cells{&target_(top, left, 0), rows, cols, kChannels, target_.view().stride};
  const Box box = box_around(centre(window.box), window.box.w * cols / stack_.cols(),
                             window.box.h * rows / stack_.rows());
  middle_->describe(rgb, {box, window.angle_deg}, cells);
  const ImageView<const ColourIndex> all = colours_.sample(rgb, window);
  soft_colours_into({all.row(GradientHistogram::kCell * top) + GradientHistogram::kCell * left,
                     GradientHistogram::kCell * rows, GradientHistogram::kCell * cols, 1, all.stride},
                    cells, kColour);
  for (int r = 0; r < rows; ++r)
    centre_and_taper(cells.row(r), cols, shift_.data(), taper_.view().row(top + r) + left);
  return std::as_const(target_).view();
}

}  // namespace mnemon
