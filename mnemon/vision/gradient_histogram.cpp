// SPDX-License-Identifier: MIT
#include <mnemon/vision/gradient_histogram.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/clones.hpp>
#include <mnemon/base/lanes.hpp>

namespace mnemon {
namespace {

constexpr int kDirections = 18;
constexpr int kUnsigned = 9;
constexpr int kLane = 24;
constexpr float kTruncation = 0.2f;

// Tangents of 10, 30, 50 and 70 degrees, where the nearest of 0, 20, .. 80 degrees changes.
constexpr std::array<float, 4> kTangents = {0.17632698f, 0.57735027f, 1.19175359f, 2.74747742f};

// The steepness of each sample of a row, and the direction of 18 that is nearest to its gradient. The gradient is turned
// over to point down or along, then looked at in a quarter of the circle.
MNEMON_CLONES void steepness_of(const float* __restrict above, const float* __restrict here,
                                const float* __restrict below, int first, int last,
                                float* __restrict magnitude, int* __restrict bin) noexcept {
  for (int c = first; c < last; ++c) {
    const float dx = here[c + 1] - here[c - 1];
    const float dy = below[c] - above[c];
    const float across = std::fabs(dx);
    const float down = std::fabs(dy);
    float at = 0;  // in a quarter of the circle
    for (const float tangent : kTangents) at += down > tangent * across ? 1.0f : 0.0f;
    // Mirrored into half of it, then turned over into all of it. By signs, as compilers do not vectorise branches.
    const float over = std::copysign(1.0f, dy);
    const float left = over * std::copysign(1.0f, dx);
    at = 0.5f * kUnsigned * (1 - left) + left * at + 0.5f * kUnsigned * (1 - over);
    bin[c] = static_cast<int>(at < kDirections ? at : 0.0f);
    magnitude[c] = std::sqrt(dx * dx + dy * dy);
  }
}

// Spreads four cells' worth of a row's samples over the two cells that each lies between. A sample has middle
// 1/8, 3/8, 5/8 or 7/8 of the way across its cell.
void spread_row(const float* __restrict magnitude, const int* __restrict bin, int cells,
                float* __restrict line) noexcept {
  for (int cell = 0; cell < cells; ++cell) {
    float* before = line + static_cast<std::ptrdiff_t>(cell) * kLane;  // the line starts a cell early
    float* here = before + kLane;
    float* after = here + kLane;
    const float* m = magnitude + 4 * static_cast<std::ptrdiff_t>(cell);
    const int* b = bin + 4 * static_cast<std::ptrdiff_t>(cell);
    before[b[0]] += 0.375f * m[0];
    here[b[0]] += 0.625f * m[0];
    before[b[1]] += 0.125f * m[1];
    here[b[1]] += 0.875f * m[1];
    here[b[2]] += 0.875f * m[2];
    after[b[2]] += 0.125f * m[2];
    here[b[3]] += 0.625f * m[3];
    after[b[3]] += 0.375f * m[3];
  }
}

MNEMON_CLONES void add_up(const float* __restrict line, float* __restrict sum, int count) noexcept {
  for (int i = 0; i < count; ++i) sum[i] += line[i];
}

// The energy of each cell, whichever way its gradients point.
MNEMON_CLONES void measure_energy(const float* __restrict bins, int cells,
                                  float* __restrict energy) noexcept {
  for (int cell = 0; cell < cells; ++cell) {
    const float* b = bins + static_cast<std::ptrdiff_t>(cell) * kLane;
    float lane[4];
    for (int j = 0; j < 4; ++j) {
      const float first = b[j] + b[j + kUnsigned];
      const float second = b[4 + j] + b[4 + j + kUnsigned];
      lane[j] = first * first + second * second;
    }
    const float last = b[kUnsigned - 1] + b[kDirections - 1];
    energy[cell] = (lane[0] + lane[2]) + (lane[1] + lane[3]) + last * last;
  }
}

MNEMON_CLONES void scale_blocks(const float* __restrict upper, const float* __restrict lower, int count,
                                float* __restrict scale) noexcept {
  // A thousandth of the energy of gradients of one grey level keeps plain ground at 0.
  for (int c = 0; c < count; ++c)
    scale[c] = 1.0f / std::sqrt(upper[c] + upper[c + 1] + lower[c] + lower[c + 1] + 1e-3f);
}

// A row of cells, normalised by its blocks above and below; `stride` is that of the cells written.
MNEMON_CLONES void normalise_row(const float* __restrict bins, const float* __restrict above,
                                 const float* __restrict below, int cells, float* __restrict out,
                                 std::ptrdiff_t stride) noexcept {
  static_assert(kLane == 3 * 8 && kDirections == 16 + 2);
  for (int cell = 0; cell < cells; ++cell) {
    const float scale[4] = {above[cell], above[cell + 1], below[cell], below[cell + 1]};
    Eight bin[3];
    for (int j = 0; j < 3; ++j) bin[j] = load(bins + static_cast<std::ptrdiff_t>(cell) * kLane + 8 * j);
    Eight sum[3] = {};
    Four texture[4];  // of a block, in four parts
    for (int k = 0; k < 4; ++k) {
      Eight all{};
      for (int j = 0; j < 3; ++j) {
        Eight cut;
        for (int i = 0; i < 8; ++i) {
          const float scaled = bin[j][i] * scale[k];
          cut[i] = scaled < kTruncation ? scaled : kTruncation;
        }
        sum[j] += cut;
        all += cut;
      }
      texture[k] = lower_half(all) + upper_half(all);
    }
    transpose(texture);
    const Four blocks = (texture[0] + texture[2]) + (texture[1] + texture[3]);
    float* to = out + cell * stride;
    store(0.5f * sum[0], to);
    store(0.5f * sum[1], to + 8);
    store(0.5f * lower_half(sum[2]), to + 16);
    store(0.2357f * blocks, to + kDirections);
  }
}

// Shares what four rows of samples put into `sum`, of which `later` has the second row once, the third twice and the
// fourth three times, between the cells above and below: 7/8, 5/8, 3/8 and 1/8 belong above.
MNEMON_CLONES void share_out(const float* __restrict sum, const float* __restrict later, int count,
                             float* __restrict above, float* __restrict below) noexcept {
  for (int i = 0; i < count; ++i) {
    above[i] += 0.875f * sum[i] - 0.25f * later[i];
    below[i] = 0.125f * sum[i] + 0.25f * later[i];
  }
}

}  // namespace

GradientHistogram::GradientHistogram(int cell_rows, int cell_cols)
    : cell_rows_(cell_rows),
      cell_cols_(cell_cols),
      magnitude_(static_cast<std::size_t>(kCell) * cell_cols),
      bin_(magnitude_.size()),
      line_(1, cell_cols + 2, kBins),
      later_(1, cell_cols, kBins),
      bins_(cell_rows + 2, cell_cols, kBins),
      energy_(cell_rows + 2, cell_cols + 2),
      scale_(cell_rows + 1, cell_cols + 1) {}

void GradientHistogram::describe_into(ImageView<const float> grey, ImageView<float> cells) noexcept {
  MNEMON_ASSERT(grey.rows == kCell * cell_rows_ && grey.cols == kCell * cell_cols_);
  MNEMON_ASSERT(cells.rows == cell_rows_ && cells.cols == cell_cols_ && cells.channels >= kChannels);
  gather(grey);
  measure_blocks();
  for (int r = 0; r < cell_rows_; ++r)
    normalise_row(bins_.view().row(r + 1), scale_.view().row(r), scale_.view().row(r + 1), cell_cols_,
                  cells.row(r), cells.channels);
}

// Four rows of samples lie between the middles of two rows of cells. They are gathered from the last to the first into
// one line; what it holds after each but the first adds up to the fourth row three times, the third twice, the second
// once. So the bins of cells are touched once for four rows.
void GradientHistogram::gather(ImageView<const float> grey) noexcept {
  const int count = cell_cols_ * kBins;
  std::fill_n(bins_.view().row(0), count, 0.0f);  // the cells above the first, which are none
  for (int above = 0; above <= cell_rows_; ++above) {
    std::ranges::fill(line_.elements(), 0.0f);
    std::ranges::fill(later_.elements(), 0.0f);
    for (int k = kCell - 1; k >= 0; --k) {
      const int r = kCell * above - kCell / 2 + k;
      if (r >= 0 && r < grey.rows) gather_row(grey, r);
      if (k > 0) add_up(line_.view().data + kBins, later_.view().data, count);
    }
    share_out(line_.view().data + kBins, later_.view().data, count, bins_.view().row(above),
              bins_.view().row(above + 1));
  }
}

// Adds a row of samples to the line.
void GradientHistogram::gather_row(ImageView<const float> grey, int row) noexcept {
  const float* above = grey.row(std::max(0, row - 1));
  const float* below = grey.row(std::min(grey.rows - 1, row + 1));
  const int last = grey.cols - 1;
  steepness_of(above, grey.row(row), below, 1, last, magnitude_.data(), bin_.data());
  magnitude_[0] = magnitude_[1];  // beyond the ends there is nothing to differ from
  bin_[0] = bin_[1];
  magnitude_[last] = magnitude_[last - 1];
  bin_[last] = bin_[last - 1];
  spread_row(magnitude_.data(), bin_.data(), cell_cols_, line_.view().data);
}

void GradientHistogram::measure_blocks() noexcept {
  const ImageView<float> energy = energy_.view();
  for (int r = 0; r < cell_rows_; ++r) {
    float* row = energy.row(r + 1);
    measure_energy(bins_.view().row(r + 1), cell_cols_, row + 1);
    row[0] = row[1];
    row[cell_cols_ + 1] = row[cell_cols_];
  }
  std::copy_n(energy.row(1), energy.cols, energy.row(0));
  std::copy_n(energy.row(cell_rows_), energy.cols, energy.row(cell_rows_ + 1));
  for (int r = 0; r <= cell_rows_; ++r)
    scale_blocks(energy.row(r), energy.row(r + 1), cell_cols_ + 1, scale_.view().row(r));
}

}  // namespace mnemon
