// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/mask_cutter.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <vector>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/arithmetic.hpp>

namespace mnemon {
namespace {

constexpr int kSide = TargetPatch::kMostSide;
constexpr double kMarked = 1e6;        // cells that one that is marked as the target is worth
constexpr double kExpected = 0.5;      // of a piece that is kept beside the most expected one, in the mean
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
template <class T>
ImageView<const T> part_of(const Image<T>& picture, int rows, int cols) noexcept {
  return {picture.view().data, rows, cols, 1, cols};
}

// A row of cells on an appearance's grid: where they are on it, and what it and their colours say.
struct CellRow {
  float x, y;            // of the first
  float step_x, step_y;  // from one to the next
  ImageView<const float> shape;
  const float* visible;  // as the shape; where all is visible, one number
  int by_visible;        // 1, or 0 for one number
  const float* likelihood;
  const float* inside;  // 1 for cells in the picture; beyond it only the expected shape is known
};

struct CellTables {
  const float* by_shape;
  const float* by_colour;
  float shape_weight;
  float colour_weight;
};

MNEMON_TABLE_CLONES void weigh_row(const CellRow& row, const CellTables& tables, int count,
                                   float* __restrict expected, std::int32_t* __restrict gains) noexcept {
  const auto last_x = static_cast<float>(row.shape.cols - 1);
  const auto last_y = static_cast<float>(row.shape.rows - 1);
  const int last_left = row.shape.cols - 2;
  const int last_top = row.shape.rows - 2;
  const auto stride = static_cast<int>(row.shape.stride);
  const float* const shape = row.shape.data;
  for (int i = 0; i < count; ++i) {
    const float x = std::clamp(row.x + static_cast<float>(i) * row.step_x, 0.0f, last_x);
    const float y = std::clamp(row.y + static_cast<float>(i) * row.step_y, 0.0f, last_y);
    const int left = std::min(static_cast<int>(x), last_left);
    const int top = std::min(static_cast<int>(y), last_top);
    const float across = x - static_cast<float>(left);
    const float down = y - static_cast<float>(top);
    const int at = top * stride + left;
    const float upper = shape[at] + across * (shape[at + 1] - shape[at]);
    const float lower = shape[at + stride] + across * (shape[at + stride + 1] - shape[at + stride]);
    const float here = upper + down * (lower - upper);
    const int nearest = static_cast<int>(y + 0.5f) * stride + static_cast<int>(x + 0.5f);
    const float seen = row.visible[row.by_visible * nearest];
    const auto step_of_shape = static_cast<int>(kSteps * (seen * here) + 0.5f);
    const auto step_of_colour = static_cast<int>(kSteps / kLikelihoodUnit * row.likelihood[i] + 0.5f);
    expected[i] = here;
    gains[i] =
        static_cast<std::int32_t>(tables.shape_weight * tables.by_shape[step_of_shape] +
                                  row.inside[i] * tables.colour_weight * tables.by_colour[step_of_colour]);
  }
}

// The cells of a row that lie on a grid, along one of its axes: those from first to end, as far as they were before.
void keep_on_grid(double start, double step, int cells, int& first, int& end) noexcept {
  const auto on_grid = [&](int i) { return start + i * step > -0.5 && start + i * step < cells - 0.5; };
  if (std::abs(step) > 1e-9) {
    const double one = (-0.5 - start) / step;
    const double other = (cells - 0.5 - start) / step;
    first = static_cast<int>(std::clamp(std::floor(std::min(one, other)), 1.0 * first, 1.0 * end));
    end = static_cast<int>(std::clamp(std::ceil(std::max(one, other)) + 1, 1.0 * first, 1.0 * end));
  }
  while (first < end && !on_grid(first)) ++first;
  while (first < end && !on_grid(end - 1)) --end;
}

// The sum of numbers where labels are 1.
MNEMON_CLONES float sum_of_labelled(const float* __restrict values, const Byte* __restrict labels,
                                    int count) noexcept {
  Parts parts{};
  int i = 0;
  for (; i + kCellLanes <= count; i += kCellLanes)
    for (int k = 0; k < kCellLanes; ++k) parts[k] += static_cast<float>(labels[i + k]) * values[i + k];
  float sum = 0;
  for (; i < count; ++i) sum += static_cast<float>(labels[i]) * values[i];
  return std::accumulate(parts.begin(), parts.end(), sum);
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
      inside_(kSide),
      labels_(kSide, kSide),
      fixed_(kSide, kSide),
      solver_(kSide, kSide),
      bits_(kSide, kSide),
      kept_(kSide, kSide),
      finder_(kSide, kSide) {}

CutMask MaskCutter::cut(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                        const CellPlane* visible, ImageView<const Byte> must) noexcept {
  rows_ = patch.rows();
  cols_ = patch.cols();
  weigh_cells(patch, appearance, pose, visible);
  if (!must.empty()) mark(must);
  weigh_borders(patch);
  solver_.cut(problem(), part_of(labels_, rows_, cols_));
  CutMask mask;
  keep_expected(mask);
  mask.labels = part_of(labels_, rows_, cols_);
  judge(patch, mask);
  return mask;
}

void MaskCutter::weigh_cells(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                             const CellPlane* visible) noexcept {
  const CellTables tables{by_shape_.data(), by_colour_.data(),
                          static_cast<float>(rules_.shape_weight) * kUnit,
                          static_cast<float>(rules_.colour_weight) * kUnit};
  const Point first = appearance.cell_at(pose.about_middle(patch.place_at({0, 0})));
  const double step = patch.block() / appearance.cell_px();
  const Point col{step * std::cos(pose.turn) / pose.scale_x(), -step * std::sin(pose.turn) / pose.scale_y()};
  const Point row{step * std::sin(pose.turn) / pose.scale_x(), step * std::cos(pose.turn) / pose.scale_y()};
  const ImageView<const float> shape = appearance.shape();
  const float all_visible = 1;
  std::fill_n(fixed_.view().data, rows_ * cols_, CutProblem::kAround);
  std::fill_n(expected_.view().data, rows_ * cols_, 0.0f);
  for (int r = 0; r < rows_; ++r) {
    const double x = first.x + r * row.x;
    const double y = first.y + r * row.y;
    int from = 0;
    int end = cols_;
    keep_on_grid(x, col.x, shape.cols, from, end);
    keep_on_grid(y, col.y, shape.rows, from, end);
    if (from == end) continue;
    const TargetPatch::Run inside = patch.inside(r);
    for (int c = from; c < end; ++c) inside_[c - from] = c >= inside.first && c < inside.end ? 1.0f : 0.0f;
    const std::ptrdiff_t at = static_cast<std::ptrdiff_t>(r) * cols_ + from;
    weigh_row({static_cast<float>(x + from * col.x), static_cast<float>(y + from * col.y),
               static_cast<float>(col.x), static_cast<float>(col.y), shape,
               visible != nullptr ? visible->all().data() : &all_visible, visible != nullptr ? 1 : 0,
               patch.plane(kLikelihood).row(r) + from, inside_.data()},
              tables, end - from, expected_.view().data + at, gain_.view().data + at);
    std::fill_n(fixed_.view().data + at, end - from, CutProblem::kOpen);
  }
}

void MaskCutter::mark(ImageView<const Byte> must) noexcept {
  const ImageView<Byte> fixed = part_of(fixed_, rows_, cols_);
  for (int r = 0; r < rows_; ++r)
    for (int c = 0; c < cols_; ++c)
      if (must(r, c) != CutProblem::kOpen) fixed(r, c) = must(r, c);
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

// The sum of the expected shape in a piece, and much for each of its cells that is marked.
double MaskCutter::expected_in(const Piece& piece) const noexcept {
  double sum = 0;
  finder_.for_each_run(piece, [&](const PieceFinder::Run& run) {
    for (int c = run.first; c < run.end; ++c) {
      const std::ptrdiff_t i = static_cast<std::ptrdiff_t>(run.row) * cols_ + c;
      sum += expected_.view().data[i] + (fixed_.view().data[i] == CutProblem::kTarget ? kMarked : 0);
    }
  });
  return sum;
}

// The piece with most of the expected shape, or with what was marked; null for none.
const Piece* MaskCutter::most_expected(std::span<const Piece> pieces) const noexcept {
  if (pieces.size() == 1) return &pieces.front();
  const Piece* best = nullptr;
  double most = -1;
  for (const Piece& piece : pieces) {
    const double shared = 1e-3 * piece.area + expected_in(piece);
    if (shared > most) {
      most = shared;
      best = &piece;
    }
  }
  return best;
}

CutProblem MaskCutter::problem() const noexcept {
  return {part_of(gain_, rows_, cols_), part_of(right_, rows_, cols_), part_of(down_, rows_, cols_),
          part_of(fixed_, rows_, cols_)};
}

// Holes are part of what is kept.
void MaskCutter::keep_expected(CutMask& mask) noexcept {
  bits_.read_from(part_of(labels_, rows_, cols_));
  const std::span<const Piece> pieces = finder_.find(bits_);
  const Piece* const best = most_expected(pieces);
  kept_.start(rows_, cols_);
  if (best != nullptr) {
    finder_.draw_into(*best, kept_);
    if (keeps_pieces_)
      for (const Piece& piece : pieces)
        if (expected_in(piece) >= kExpected * piece.area) finder_.draw_into(piece, kept_);
    finder_.fill_holes(kept_);
    const std::span<const Piece> kept = finder_.find(kept_);
    mask.piece = kept.size() == 1 ? kept.front() : finder_.join();
    mask.area = mask.piece.area;
  }
  kept_.write_into({labels_.view().data, rows_, cols_, 1, cols_});
}

void MaskCutter::judge(const TargetPatch& patch, CutMask& mask) const noexcept {
  double inside = 0;
  double all = 0;
  for (int r = 0; r < rows_; ++r) {
    const float* const row = patch.plane(kLikelihood).row(r);
    inside += sum_of_labelled(row, mask.labels.row(r), cols_);
    all += sum_of({row, static_cast<std::size_t>(cols_)});
  }
  const int around_count = rows_ * cols_ - mask.area;
  if (mask.area > 0 && around_count > 0)
    mask.contrast = (inside / mask.area - (all - inside) / around_count) / kLikelihoodUnit;
}

}  // namespace mnemon
