// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/mask_cutter.hpp>

#include <algorithm>
#include <cmath>
#include <vector>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>
#include <mnemon/image/bilinear.hpp>

namespace mnemon {
namespace {

constexpr int kSide = TargetPatch::kMostSide;
constexpr double kMarked = 1e6;        // cells that one that is marked as the target is worth
constexpr float kUnit = 1000;          // whole numbers to a natural logarithm
constexpr double kShapeDoubt = 0.08;   // how far the shape's probabilities are kept from 0 and 1
constexpr float kMostByColour = 3;     // natural logarithms
constexpr float kLeastBorder = 0.06f;  // share of the smoothness that the sharpest border still costs

MNEMON_CLONES void add_squares(const float* __restrict here, const float* __restrict there, int count,
                               float* __restrict sums) noexcept {
  for (int i = 0; i < count; ++i) {
    const float d = here[i] - there[i];
    sums[i] += d * d;
  }
}

MNEMON_CLONES void cost_of_borders(const float* __restrict squares, float scale, float smoothness, int count,
                                   std::int32_t* __restrict costs) noexcept {
  for (int i = 0; i < count; ++i)
    costs[i] = static_cast<std::int32_t>(
        kUnit * smoothness * (kLeastBorder + (1 - kLeastBorder) * exp_of_negative(-scale * squares[i])));
}

// Logarithms of share / (1 - share), for shares from 0 to 1 in steps.
constexpr int kSteps = 1024;

float log_ratio(double share) noexcept { return static_cast<float>(std::log(share / (1 - share))); }

std::vector<float> log_ratios(double doubt, float most) {
  std::vector<float> table(kSteps + 1);
  for (int i = 0; i <= kSteps; ++i)
    table[i] = std::clamp(log_ratio(doubt + (1 - 2 * doubt) * i / kSteps), -most, most);
  return table;
}

// The first elements of a picture, as one of so many rows and columns.
template <class T>
ImageView<T> part_of(Image<T>& picture, int rows, int cols) noexcept {
  return {picture.view().data, rows, cols, 1, cols};
}

float looked_up(const std::vector<float>& table, float share) noexcept {
  return table[static_cast<int>(2 * kSteps * share + 1) / 2];  // the nearest
}

}  // namespace

MaskCutter::MaskCutter(const CutRules& rules)
    : rules_(rules),
      by_colour_(log_ratios(1e-3, kMostByColour)),
      by_shape_(log_ratios(kShapeDoubt, 10)),
      gain_(kSide, kSide),
      right_(kSide, kSide),
      down_(kSide, kSide),
      across_(kSide, kSide),
      below_(kSide, kSide),
      expected_(kSide, kSide),
      labels_(kSide, kSide),
      fixed_(kSide, kSide),
      solver_(kSide, kSide),
      bits_(kSide, kSide),
      kept_(kSide, kSide),
      finder_(kSide, kSide) {}

CutMask MaskCutter::cut(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                        ImageView<const float> visible, ImageView<const Byte> must) noexcept {
  rows_ = patch.rows();
  cols_ = patch.cols();
  weigh_cells(patch, appearance, pose, visible, must);
  weigh_borders(patch);
  problem_ = {part_of(gain_, rows_, cols_), part_of(right_, rows_, cols_), part_of(down_, rows_, cols_),
              part_of(fixed_, rows_, cols_)};
  solver_.cut(problem_, part_of(labels_, rows_, cols_));
  CutMask mask;
  keep_largest(mask);
  mask.labels = part_of(labels_, rows_, cols_);
  judge(patch, mask);
  return mask;
}

void MaskCutter::weigh_cells(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                             ImageView<const float> visible, ImageView<const Byte> must) noexcept {
  const auto by_colour = static_cast<float>(rules_.colour_weight) * kUnit;
  const auto by_shape = static_cast<float>(rules_.shape_weight) * kUnit;
  const Point first = appearance.cell_at(pose.about_middle(patch.place_at({0, 0})));
  const double step = patch.block() / appearance.cell_px();
  const Point col{step * std::cos(pose.turn) / pose.scale_x(), -step * std::sin(pose.turn) / pose.scale_y()};
  const Point row{step * std::sin(pose.turn) / pose.scale_x(), step * std::cos(pose.turn) / pose.scale_y()};
  const ImageView<const float> shape = appearance.shape();
  const ImageView<float> expected = part_of(expected_, rows_, cols_);
  const ImageView<const float> likelihood = patch.plane(kLikelihood);
  for (int r = 0; r < rows_; ++r)
    for (int c = 0; c < cols_; ++c) {
      const std::ptrdiff_t i = static_cast<std::ptrdiff_t>(r) * cols_ + c;
      const double x = first.x + c * col.x + r * row.x;
      const double y = first.y + c * col.y + r * row.y;
      const bool on_grid = x > -0.5 && y > -0.5 && x < shape.cols - 0.5 && y < shape.rows - 0.5;
      Byte fixed = on_grid ? CutProblem::kOpen : CutProblem::kAround;
      if (!must.empty() && must(r, c) != CutProblem::kOpen) fixed = must(r, c);
      fixed_.view().data[i] = fixed;
      expected(r, c) = on_grid ? sampled(shape, x + 0.5, y + 0.5) : 0.0f;
      if (fixed != CutProblem::kOpen) continue;
      const float seen =
          visible.empty() || !on_grid ? 1.0f : visible(static_cast<int>(y + 0.5), static_cast<int>(x + 0.5));
      float gain = by_shape * looked_up(by_shape_, seen * expected(r, c));
      // Of what lies beyond the picture only the expected shape is known.
      if (patch.is_inside(r, c))
        gain += by_colour * looked_up(by_colour_, likelihood(r, c) / kLikelihoodUnit);
      gain_.view().data[i] = static_cast<std::int32_t>(gain);
    }
}

// The scale of differences is that of the patch at hand, so that noise does not count as borders.
void MaskCutter::weigh_borders(const TargetPatch& patch) noexcept {
  const int count = rows_ * cols_;
  float* const across = across_.view().data;
  float* const below = below_.view().data;
  std::fill_n(across, count, 0.0f);
  std::fill_n(below, count, 0.0f);
  for (int k = 0; k < kLikelihood; ++k)
    for (int r = 0; r < rows_; ++r) {
      const float* const row = patch.plane(k).row(r);
      add_squares(row, row + 1, cols_ - 1, across + r * cols_);
      if (r + 1 < rows_) add_squares(row, patch.plane(k).row(r + 1), cols_, below + r * cols_);
    }
  const float mean =
      (sum_of({across, static_cast<std::size_t>(count)}) + sum_of({below, static_cast<std::size_t>(count)})) /
      static_cast<float>(2 * count);
  const float scale = 1 / std::max(2 * mean, 1e-6f);
  const auto smoothness = static_cast<float>(rules_.smoothness);
  cost_of_borders(across, scale, smoothness, count, right_.view().data);
  cost_of_borders(below, scale, smoothness, count, down_.view().data);
}

// Of the pieces the one with most of the expected shape, or with what was marked; its holes are part of it.
void MaskCutter::keep_largest(CutMask& mask) noexcept {
  bits_.start(rows_, cols_);
  for (int r = 0; r < rows_; ++r)
    for (int c = 0; c < cols_; ++c)
      if (labels_.view().data[static_cast<std::ptrdiff_t>(r) * cols_ + c] != 0) bits_.set(r, c);
  const Piece* best = nullptr;
  double most = -1;
  for (const Piece& piece : finder_.find(bits_)) {
    double shared = 1e-3 * piece.area;
    finder_.for_each_run(piece, [&](const PieceFinder::Run& run) {
      for (int c = run.first; c < run.end; ++c) {
        const std::ptrdiff_t i = static_cast<std::ptrdiff_t>(run.row) * cols_ + c;
        shared += expected_.view().data[i] + (fixed_.view().data[i] == CutProblem::kTarget ? kMarked : 0);
      }
    });
    if (shared > most) {
      most = shared;
      best = &piece;
    }
  }
  kept_.start(rows_, cols_);
  if (best != nullptr) {
    finder_.draw_into(*best, kept_);
    finder_.fill_holes(kept_);
    mask.piece = finder_.find(kept_).front();
    mask.area = mask.piece.area;
  }
  kept_.write_into({labels_.view().data, rows_, cols_, 1, cols_});
}

void MaskCutter::judge(const TargetPatch& patch, CutMask& mask) const noexcept {
  double inside = 0;
  double around = 0;
  for (int r = 0; r < rows_; ++r)
    for (int c = 0; c < cols_; ++c)
      (mask.labels(r, c) != 0 ? inside : around) += patch.plane(kLikelihood)(r, c);
  const int around_count = rows_ * cols_ - mask.area;
  if (mask.area > 0 && around_count > 0)
    mask.contrast = (inside / mask.area - around / around_count) / kLikelihoodUnit;
}

}  // namespace mnemon
