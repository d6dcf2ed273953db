// SPDX-License-Identifier: MIT
#include <mnemon/vision/gradient_histogram.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <mnemon/base/assertion.hpp>
#include <mnemon/base/clones.hpp>

namespace mnemon {
namespace {

constexpr int kDirections = 18;
constexpr int kUnsigned = 9;
constexpr int kLane = 24;
constexpr float kTruncation = 0.2f;

// Cosine and sine of 0, 20, .. 160 degrees.
constexpr std::array<float, kUnsigned> kCos = {
    1.0f, 0.93969262f, 0.76604444f, 0.5f, 0.17364818f, -0.17364818f, -0.5f, -0.76604444f, -0.93969262f};
constexpr std::array<float, kUnsigned> kSin = {0.0f,        0.34202014f, 0.64278761f,
                                               0.86602540f, 0.98480775f, 0.98480775f,
                                               0.86602540f, 0.64278761f, 0.34202014f};

// The steepness of each sample of a row, and the direction of 18 that is nearest to its gradient.
MNEMON_CLONES void steepness_of(const float* __restrict above, const float* __restrict here,
                                const float* __restrict below, int first, int last,
                                float* __restrict magnitude, int* __restrict bin) noexcept {
  for (int c = first; c < last; ++c) {
    const float dx = here[c + 1] - here[c - 1];
    const float dy = below[c] - above[c];
    float best = 0;
    int at = 0;
    for (int k = 0; k < kUnsigned; ++k) {
      const float along = kCos[k] * dx + kSin[k] * dy;
      const float either = std::fabs(along);
      const int which = along < 0 ? k + kUnsigned : k;
      at = either > best ? which : at;
      best = either > best ? either : best;
    }
    magnitude[c] = std::sqrt(dx * dx + dy * dy);
    bin[c] = at;
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

MNEMON_CLONES void add_twice(const float* __restrict line, float first, float* __restrict to_first,
                             float second, float* __restrict to_second, int count) noexcept {
  for (int i = 0; i < count; ++i) {
    to_first[i] += first * line[i];
    to_second[i] += second * line[i];
  }
}

MNEMON_CLONES void add_once(const float* __restrict line, float weight, float* __restrict to,
                            int count) noexcept {
  for (int i = 0; i < count; ++i) to[i] += weight * line[i];
}

// The energy of each cell, whichever way its gradients point.
MNEMON_CLONES void measure_energy(const float* __restrict bins, int cells,
                                  float* __restrict energy) noexcept {
  for (int cell = 0; cell < cells; ++cell) {
    const float* b = bins + static_cast<std::ptrdiff_t>(cell) * kLane;
    float sum = 0;
    for (int k = 0; k < kUnsigned; ++k) {
      const float both = b[k] + b[k + kUnsigned];
      sum += both * both;
    }
    energy[cell] = sum;
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
  for (int cell = 0; cell < cells; ++cell) {
    const float* b = bins + static_cast<std::ptrdiff_t>(cell) * kLane;
    float* to = out + cell * stride;
    const float scale[4] = {above[cell], above[cell + 1], below[cell], below[cell + 1]};
    float sum[kLane] = {};
    float texture[4];
    for (int k = 0; k < 4; ++k) {
      float cut[kLane];
      for (int i = 0; i < kLane; ++i) {
        const float v = b[i] * scale[k];
        cut[i] = v < kTruncation ? v : kTruncation;
        sum[i] += cut[i];
      }
      float lane[8];
      for (int j = 0; j < 8; ++j) lane[j] = cut[j] + cut[8 + j];
      for (int j = 0; j < 4; ++j) lane[j] += lane[4 + j];
      texture[k] = ((lane[0] + lane[2]) + (lane[1] + lane[3])) + (cut[16] + cut[17]);
    }
    for (int i = 0; i < kDirections; ++i) to[i] = 0.5f * sum[i];
    for (int k = 0; k < 4; ++k) to[kDirections + k] = 0.2357f * texture[k];
  }
}

}  // namespace

GradientHistogram::GradientHistogram(int cell_rows, int cell_cols)
    : cell_rows_(cell_rows),
      cell_cols_(cell_cols),
      magnitude_(static_cast<std::size_t>(kCell) * cell_cols),
      bin_(magnitude_.size()),
      line_(1, cell_cols + 2, kBins),
      bins_(cell_rows, cell_cols, kBins),
      energy_(cell_rows + 2, cell_cols + 2),
      scale_(cell_rows + 1, cell_cols + 1) {}

void GradientHistogram::describe_into(ImageView<const float> grey, ImageView<float> cells) noexcept {
  MNEMON_ASSERT(grey.rows == kCell * cell_rows_ && grey.cols == kCell * cell_cols_);
  MNEMON_ASSERT(cells.rows == cell_rows_ && cells.cols == cell_cols_ && cells.channels >= kChannels);
  gather(grey);
  measure_blocks();
  for (int r = 0; r < cell_rows_; ++r)
    normalise_row(bins_.view().row(r), scale_.view().row(r), scale_.view().row(r + 1), cell_cols_,
                  cells.row(r), cells.channels);
}

void GradientHistogram::gather(ImageView<const float> grey) noexcept {
  std::ranges::fill(bins_.elements(), 0.0f);
  for (int r = 0; r < grey.rows; ++r) {
    const float* above = grey.row(std::max(0, r - 1));
    const float* here = grey.row(r);
    const float* below = grey.row(std::min(grey.rows - 1, r + 1));
    const int last = grey.cols - 1;
    steepness_of(above, here, below, 1, last, magnitude_.data(), bin_.data());
    magnitude_[0] = magnitude_[1];  // beyond the ends there is nothing to differ from
    bin_[0] = bin_[1];
    magnitude_[last] = magnitude_[last - 1];
    bin_[last] = bin_[last - 1];
    std::ranges::fill(line_.elements(), 0.0f);
    spread_row(magnitude_.data(), bin_.data(), cell_cols_, line_.view().data);
    add_row(r);
  }
}

// Adds the gathered line to the two rows of cells that the row of samples lies between.
void GradientHistogram::add_row(int row) noexcept {
  constexpr std::array<float, kCell> kUpper = {0.375f, 0.125f, 0.875f, 0.625f};
  const int cell = row / kCell;
  const int within = row % kCell;
  const int upper = within < kCell / 2 ? cell - 1 : cell;
  const float weight = kUpper[within];
  const float* line = line_.view().data + kBins;
  const int count = cell_cols_ * kBins;
  if (upper < 0)
    add_once(line, 1 - weight, bins_.view().row(0), count);
  else if (upper + 1 >= cell_rows_)
    add_once(line, weight, bins_.view().row(upper), count);
  else
    add_twice(line, weight, bins_.view().row(upper), 1 - weight, bins_.view().row(upper + 1), count);
}

void GradientHistogram::measure_blocks() noexcept {
  const ImageView<float> energy = energy_.view();
  for (int r = 0; r < cell_rows_; ++r) {
    float* row = energy.row(r + 1);
    measure_energy(bins_.view().row(r), cell_cols_, row + 1);
    row[0] = row[1];
    row[cell_cols_ + 1] = row[cell_cols_];
  }
  std::copy_n(energy.row(1), energy.cols, energy.row(0));
  std::copy_n(energy.row(cell_rows_), energy.cols, energy.row(cell_rows_ + 1));
  for (int r = 0; r <= cell_rows_; ++r)
    scale_blocks(energy.row(r), energy.row(r + 1), cell_cols_ + 1, scale_.view().row(r));
}

}  // namespace mnemon
