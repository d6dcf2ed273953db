// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/place_search.hpp>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/bilinear.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/track/mask/agreement.hpp>

namespace mnemon {
namespace {

constexpr double kCoarseAcross = 11;  // coarse cells along the target
constexpr int kMostPlaces = 64;       // each way
constexpr int kMostFromMiddle = 16;   // coarse cells
// Columns on either side of a row, that repeat its ends: enough for a cell at that distance at the furthest place.
constexpr int kBeside = kMostFromMiddle + kMostPlaces / 2 + kCellLanes;
constexpr int kStride = TargetPatch::kMostSide + 2 * kBeside;
constexpr double kFarPenalty = 0.15;   // of the mean difference, for a place a target size away
constexpr float kOfLikelihood = 0.3f;  // what a cell's likelihood counts beside its other channels

MNEMON_CLONES void add_to(const float* __restrict from, int count, float* __restrict to) noexcept {
  for (int i = 0; i < count; ++i) to[i] += from[i];
}

// 16 bits hold the sum of 257 bytes, more than any patch is high.
MNEMON_CLONES void add_bytes(const Byte* __restrict from, int count, std::uint16_t* __restrict to) noexcept {
  for (int i = 0; i < count; ++i) to[i] = static_cast<std::uint16_t>(to[i] + from[i]);
}

// A row of means of blocks, given the sums of their columns.
void mean_of_blocks(const float* sums, int factor, int cols, float* out) noexcept {
  const float share = 1 / static_cast<float>(factor * factor);
  for (int c = 0; c < cols; ++c) {
    float sum = 0;
    for (int j = 0; j < factor; ++j) sum += *sums++;
    out[c] = share * sum;
  }
}

// The same of colours, whose means have the channels that cells of their own would have on average.
void mean_of_blocks(const std::uint16_t* sums, int factor, int cols, float* light, float* red,
                    float* yellow) noexcept {
  const float share = 1 / static_cast<float>(factor * factor);
  for (int c = 0; c < cols; ++c) {
    int r = 0;
    int g = 0;
    int b = 0;
    for (int j = 0; j < factor; ++j, sums += 3) {
      r += sums[0];
      g += sums[1];
      b += sums[2];
    }
    const Opponents mean = opponents_of(share * static_cast<float>(r), share * static_cast<float>(g),
                                        share * static_cast<float>(b));
    light[c] = mean.light;
    red[c] = mean.red;
    yellow[c] = mean.yellow;
  }
}

struct Planes {
  std::array<const float*, kPatchChannels> channel;  // where the first place would have a cell at no distance
};

// Where a cell lies at the first of a line of places.
inline std::ptrdiff_t offset_of(const PlaceSearch::CoarseCell& cell, int row, int last_row) noexcept {
  return static_cast<std::ptrdiff_t>(std::clamp(row + cell.row, 0, last_row)) * kStride + cell.col;
}

// Differences of all cells to the picture at a line of places, each channel weighted, and weighted differences of light.
MNEMON_CLONES void compare_line(const Planes& planes, const PlaceSearch::CoarseCell* targets,
                                std::size_t target_count, const PlaceSearch::CoarseCell* around,
                                std::size_t around_count, int row, int last_row, int places,
                                float* __restrict sums, float* __restrict light) noexcept {
  for (int first = 0; first < places; first += kCellLanes) {
    Parts sum{};
    Parts lighter{};
    for (std::size_t i = 0; i < target_count; ++i) {
      const PlaceSearch::CoarseCell& cell = targets[i];
      const std::ptrdiff_t at = offset_of(cell, row, last_row) + first;
      for (int k = 0; k < kCellLanes; ++k) {
        const float d0 = planes.channel[0][at + k] - cell.value[0];
        const float d1 = planes.channel[1][at + k] - cell.value[1];
        const float d2 = planes.channel[2][at + k] - cell.value[2];
        const float d3 = planes.channel[3][at + k] - cell.value[3];
        sum[k] += cell.weight * (d0 * d0 + d1 * d1 + d2 * d2) + kOfLikelihood * (d3 * d3);
        lighter[k] += cell.weight * d0;
      }
    }
    for (std::size_t i = 0; i < around_count; ++i) {
      const PlaceSearch::CoarseCell& cell = around[i];
      const std::ptrdiff_t at = offset_of(cell, row, last_row) + first;
      for (int k = 0; k < kCellLanes; ++k) {
        const float d3 = planes.channel[3][at + k] - cell.value[3];
        sum[k] += kOfLikelihood * (d3 * d3);
      }
    }
    const int count = std::min(kCellLanes, places - first);
    for (int k = 0; k < count; ++k) {
      sums[first + k] = sum[k];
      light[first + k] = lighter[k];
    }
  }
}

// Of a target that is long, and shown as large as it may be.
constexpr auto kMostCells =
    static_cast<std::size_t>(4 * kCoarseAcross * kCoarseAcross * Appearance::kMargin * Appearance::kMargin);

}  // namespace

PlaceSearch::PlaceSearch()
    : line_(TargetPatch::kMostSide),
      colours_(3 * TargetPatch::kMostSide),
      sums_(kMostPlaces, kMostPlaces),
      light_(kMostPlaces, kMostPlaces) {
  for (Image<float>& plane : coarse_) plane = Image<float>(TargetPatch::kMostSide, kStride);
  target_.reserve(kMostCells);
  around_.reserve(kMostCells);
}

void PlaceSearch::shrink(const TargetPatch& patch, int factor) noexcept {
  coarse_rows_ = patch.rows() / factor;
  const int cols = patch.cols() / factor;
  const ImageView<const Byte> rgb = patch.cells();
  const ImageView<const float> likelihood = patch.plane(kLikelihood);
  for (int r = 0; r < coarse_rows_; ++r) {
    std::ranges::fill(line_, 0.0f);
    std::ranges::fill(colours_, std::uint16_t{0});
    for (int i = 0; i < factor; ++i) {
      add_to(likelihood.row(r * factor + i), cols * factor, line_.data());
      add_bytes(rgb.row(r * factor + i), 3 * cols * factor, colours_.data());
    }
    const auto row = [&](int channel) { return coarse_[channel].view().row(r) + kBeside; };
    mean_of_blocks(line_.data(), factor, cols, row(kLikelihood));
    mean_of_blocks(colours_.data(), factor, cols, row(0), row(1), row(2));
    for (int k = 0; k < kPatchChannels; ++k) {
      std::fill_n(row(k) - kBeside, kBeside, *row(k));
      std::fill_n(row(k) + cols, kStride - kBeside - cols, row(k)[cols - 1]);
    }
  }
}

// The appearance at a pose, in coarse cells about the pose's middle.
void PlaceSearch::render(const Appearance& appearance, const TargetPose& from, double coarse_px) noexcept {
  target_.clear();
  around_.clear();
  const ImageView<const float> shape = appearance.shape();
  const auto most = [&](double cells) {
    return std::min(kMostFromMiddle, static_cast<int>(0.5 * cells * appearance.cell_px() / coarse_px));
  };
  const int most_row = most(from.scale_y() * shape.rows);
  const int most_col = most(from.scale_x() * shape.cols);
  // A coarse cell's place in cells of the appearance is linear in its row and column.
  const auto place_of = [&](double r, double c) {
    return appearance.cell_at(
        from.about_middle({from.middle.x + c * coarse_px, from.middle.y + r * coarse_px}));
  };
  const Point middle = place_of(0, 0);
  const Point down = place_of(1, 0);
  const Point right = place_of(0, 1);
  for (int r = -most_row; r <= most_row; ++r)
    for (int c = -most_col; c <= most_col; ++c) {
      const double x = middle.x + r * (down.x - middle.x) + c * (right.x - middle.x);
      const double y = middle.y + r * (down.y - middle.y) + c * (right.y - middle.y);
      if (x < -0.5 || y < -0.5 || x > shape.cols - 0.5 || y > shape.rows - 0.5) continue;
      const Spot spot = spot_of(x + 0.5, y + 0.5, shape.rows, shape.cols);
      const auto value = [&](ImageView<const float> plane) {
        return blend(plane.row(spot.top), plane.row(spot.bottom), spot, 1, 0);
      };
      CoarseCell cell{r, c, value(shape), {}};
      for (int k = 0; k < kPatchChannels; ++k) cell.value[k] = value(appearance.channel(k));
      std::vector<CoarseCell>& cells = cell.weight < kLeastShape ? around_ : target_;
      if (cells.size() < kMostCells) cells.push_back(cell);
    }
}

// Adds up how much each place differs from the rendered cells. Beyond the patch its edge cells again.
void PlaceSearch::compare_places(int at_row, int at_col, int reach) noexcept {
  Planes planes;
  for (int k = 0; k < kPatchChannels; ++k)
    planes.channel[k] = coarse_[k].view().data + kBeside + at_col - reach;
  for (int dy = 0; dy < places_; ++dy)
    compare_line(planes, target_.data(), target_.size(), around_.data(), around_.size(), at_row + dy - reach,
                 coarse_rows_ - 1, places_, sums().row(dy), light_.view().data + dy * places_);
}

// Turns sums into how much worse each place is than the best, the further away the worse. What changes the light of all
// of it alike is no difference.
void PlaceSearch::rank_places(int reach, double size) noexcept {
  float weight_sum = 0;
  for (const CoarseCell& cell : target_) weight_sum += cell.weight;
  const float all_weights =
      3 * weight_sum + kOfLikelihood * static_cast<float>(target_.size() + around_.size());
  const ImageView<float> differences = sums();
  const std::span<float> all = differences.elements();
  double mean = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (weight_sum > 0) all[i] -= light_.view().data[i] * light_.view().data[i] / weight_sum;
    all[i] /= std::max(all_weights, 1e-6f);
    mean += all[i];
  }
  const double penalty = kFarPenalty * mean / static_cast<double>(all.size()) / (size * size);
  float lowest = std::numeric_limits<float>::infinity();
  for (int dy = 0; dy < differences.rows; ++dy)
    for (int dx = 0; dx < differences.cols; ++dx) {
      const int squared = (dy - reach) * (dy - reach) + (dx - reach) * (dx - reach);
      differences(dy, dx) += static_cast<float>(penalty * squared);
      lowest = std::min(lowest, differences(dy, dx));
    }
  for (float& sum : all) sum = lowest - sum;
}

Point PlaceSearch::find(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                        double reach_px) noexcept {
  const double target_cells = from.scale * std::max(appearance.rows(), appearance.cols()) *
                              appearance.cell_px() / Appearance::kMargin / patch.block();
  const int factor = std::clamp(static_cast<int>(std::lround(target_cells / kCoarseAcross)), 1,
                                std::min(patch.rows(), patch.cols()));
  const double coarse_px = 1.0 * factor * patch.block();
  shrink(patch, factor);
  render(appearance, from, coarse_px);
  const int reach =
      std::min(kMostPlaces / 2 - 1, std::max(2, static_cast<int>(std::ceil(reach_px / coarse_px))));
  places_ = 2 * reach + 1;
  // The coarse cell that holds the pose's middle; the rest of a cell is left to the finer fit.
  const Point middle = patch.cell_at(from.middle);
  const int at_row = static_cast<int>(std::floor((middle.y + 0.5) / factor));
  const int at_col =
      std::clamp(static_cast<int>(std::floor((middle.x + 0.5) / factor)), 0, patch.cols() / factor - 1);
  compare_places(at_row, at_col, reach);
  rank_places(reach, target_cells / factor);
  const Cell best = highest_cell(differences());
  const Point part = peak_offset(differences(), best);
  // The middle of the coarse cell that held the middle is where no motion is.
  const Point start = patch.place_at({(at_col + 0.5) * factor - 0.5, (at_row + 0.5) * factor - 0.5});
  return {start.x + (best.col - reach + part.x) * coarse_px,
          start.y + (best.row - reach + part.y) * coarse_px};
}

}  // namespace mnemon
