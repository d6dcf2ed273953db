// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/pose_fit.hpp>

#include <algorithm>
#include <cmath>
#include <limits>

#include <Eigen/Dense>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/signal/peak.hpp>

namespace mnemon {
namespace {

constexpr double kCoarseAcross = 11;  // coarse cells along the target
constexpr int kMostPlaces = 64;       // of a coarse search, each way
constexpr double kFarPenalty = 0.15;  // of the mean difference, for a place a target size away
// What a cell's likelihood counts beside its other channels: in the search, and in the fit, where more of it lets a pose swell
// over surroundings of like colour.
constexpr float kLikelihoodInSearch = 0.3f;
constexpr float kLikelihoodInFit = 0.15f;
constexpr float kLeastCounted = 0.04f;
constexpr int kIterations = 6;
constexpr double kMostScaling = 1.12;  // from the pose that a fit starts from
constexpr double kMostTurn = 0.25;     // radians
constexpr double kMostStretch = 0.08;  // logarithm
constexpr double kTolerated = 2.0;     // squared difference that counts half

// Differences of one cell of the target to a line of cells of the picture, each channel weighted.
MNEMON_CLONES void add_differences(const float* __restrict light, const float* __restrict red,
                                   const float* __restrict yellow, const float* __restrict likelihood,
                                   const float* value, float weight, float of_likelihood, int count,
                                   float* __restrict sums, float* __restrict light_sums) noexcept {
  for (int i = 0; i < count; ++i) {
    const float d0 = light[i] - value[0];
    const float d1 = red[i] - value[1];
    const float d2 = yellow[i] - value[2];
    const float d3 = likelihood[i] - value[3];
    sums[i] += weight * (d0 * d0 + d1 * d1 + d2 * d2) + of_likelihood * d3 * d3;
    light_sums[i] += weight * d0;
  }
}

void mean_of_blocks(ImageView<const float> in, int factor, int rows, int cols,
                    ImageView<float> out) noexcept {
  const float share = 1 / static_cast<float>(factor * factor);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      float sum = 0;
      for (int i = 0; i < factor; ++i)
        for (int j = 0; j < factor; ++j) sum += in(r * factor + i, c * factor + j);
      out(r, c) = share * sum;
    }
}

// A patch's channels at a place.
struct Taken {
  std::array<float, kPatchChannels> value;
};

struct Planes {
  std::array<const float*, kPatchChannels> channel;
  int rows, cols;
  std::ptrdiff_t stride;
};

// Between cells, and false beyond the edge.
inline bool take(const Planes& planes, double x, double y, Taken& taken) noexcept {
  if (!(x >= 0 && y >= 0 && x < planes.cols - 1 && y < planes.rows - 1)) return false;
  const int left = static_cast<int>(x);
  const int top = static_cast<int>(y);
  const auto across = static_cast<float>(x - left);
  const auto down = static_cast<float>(y - top);
  const std::ptrdiff_t at = top * planes.stride + left;
  for (int k = 0; k < kPatchChannels; ++k) {
    const float* const p = planes.channel[k] + at;
    const float upper = p[0] + across * (p[1] - p[0]);
    const float* const q = p + planes.stride;
    const float lower = q[0] + across * (q[1] - q[0]);
    taken.value[k] = upper + down * (lower - upper);
  }
  return true;
}

Planes planes_of(const TargetPatch& patch) noexcept {
  Planes planes{{}, patch.rows(), patch.cols(), patch.plane(0).stride};
  for (int k = 0; k < kPatchChannels; ++k) planes.channel[k] = patch.plane(k).data;
  return planes;
}

// How a pose maps an appearance's cells to a patch's.
struct CellMap {
  Point first, col, row;  // where the appearance's first cell is, and the steps of a column and of a row

  [[nodiscard]] double x(int r, int c) const noexcept { return first.x + c * col.x + r * row.x; }
  [[nodiscard]] double y(int r, int c) const noexcept { return first.y + c * col.y + r * row.y; }
};

CellMap map_of(const TargetPatch& patch, const Appearance& appearance, const Pose& pose) noexcept {
  const double step = appearance.cell_px() / patch.block();
  const double along = std::cos(pose.turn) * step;
  const double aside = std::sin(pose.turn) * step;
  return {patch.cell_at(pose.place_of(appearance.place_of(0, 0))),
          {along * pose.scale_x(), aside * pose.scale_x()},
          {-aside * pose.scale_y(), along * pose.scale_y()}};
}

// The sums of a least squares step: of place, size, turn, stretch and a change of light.
constexpr int kUnknowns = 6;
using Unknowns = Eigen::Matrix<double, kUnknowns, 1>;
struct NormalEquations {
  Eigen::Matrix<double, kUnknowns, kUnknowns> a = decltype(a)::Zero();  // below the diagonal
  Unknowns b = Unknowns::Zero();

  // What the channels of one cell say together of its motion: weighted products of their slopes and differences.
  struct Cell {
    float xx = 0, xy = 0, yy = 0;  // of slopes
    float xd = 0, yd = 0;          // of slopes and differences
    float light = 0, light_x = 0, light_y = 0, light_d = 0;
  };

  // A cell at (x, y) moves by (1, 0), (0, 1), (x, y), (-y, x) and (x, -y) with each unknown but the last.
  void add(const Cell& cell, float x, float y) noexcept {
    const std::array<float, 5> across{1, 0, x, -y, x};
    const std::array<float, 5> down{0, 1, y, x, -y};
    for (int i = 0; i < 5; ++i) {
      const float to_x = cell.xx * across[i] + cell.xy * down[i];
      const float to_y = cell.xy * across[i] + cell.yy * down[i];
      for (int j = 0; j <= i; ++j) a(i, j) += to_x * across[j] + to_y * down[j];
      a(5, i) += cell.light_x * across[i] + cell.light_y * down[i];
      b(i) += cell.xd * across[i] + cell.yd * down[i];
    }
    a(5, 5) += cell.light;
    b(5) += cell.light_d;
  }

  // With a little added to the diagonal, so that what cannot be told stays as it is.
  [[nodiscard]] Unknowns solved() noexcept {
    a.diagonal() = 1.001 * a.diagonal() + Unknowns::Constant(1e-6);
    return a.selfadjointView<Eigen::Lower>().llt().solve(b);
  }
};

// One step; what is compared is weighed by the shape and by how little it differs.
Unknowns step_from(const TargetPatch& patch, const Appearance& appearance, const Pose& pose,
                   double light) noexcept {
  const auto planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  NormalEquations equations;
  Taken taken;
  for (int r = 1; r + 1 < appearance.rows(); ++r)
    for (int c = 1; c + 1 < appearance.cols(); ++c) {
      if (!take(planes, map.x(r, c), map.y(r, c), taken)) continue;
      const float shape = appearance.shape()(r, c);
      const auto x = static_cast<float>(c + 0.5 - 0.5 * appearance.cols());
      const auto y = static_cast<float>(r + 0.5 - 0.5 * appearance.rows());
      NormalEquations::Cell cell;
      for (int k = 0; k < kPatchChannels; ++k) {
        const float counts = k == kLikelihood ? kLikelihoodInFit : shape;
        if (counts < kLeastCounted) continue;
        const ImageView<const float> channel = appearance.channel(k);
        const float dx = 0.5f * (channel(r, c + 1) - channel(r, c - 1));
        const float dy = 0.5f * (channel(r + 1, c) - channel(r - 1, c));
        const float offset = k == 0 ? static_cast<float>(light) : 0.0f;
        const float difference = taken.value[k] - channel(r, c) - offset;
        const float weight = counts / (1 + difference * difference / static_cast<float>(kTolerated));
        cell.xx += weight * dx * dx;
        cell.xy += weight * dx * dy;
        cell.yy += weight * dy * dy;
        cell.xd += weight * dx * difference;
        cell.yd += weight * dy * difference;
        if (k == 0)
          cell = {cell.xx,     cell.xy,     cell.yy,
                  cell.xd,     cell.yd,     weight,
                  weight * dx, weight * dy, weight * difference};
      }
      equations.add(cell, x, y);
    }
  return equations.solved();
}

// The mean light difference over the shape, and the likeness with that taken away.
struct Comparison {
  double light = 0;
  double likeness = 0;
};

Comparison compared(const TargetPatch& patch, const Appearance& appearance, const Pose& pose) noexcept {
  const auto planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  Taken taken;
  Comparison result;
  double weights = 0;
  // In two rounds: the light first.
  for (int round = 0; round < 2; ++round) {
    double sum = 0;
    weights = 0;
    for (int r = 0; r < appearance.rows(); ++r)
      for (int c = 0; c < appearance.cols(); ++c) {
        const float shape = appearance.shape()(r, c);
        if (shape < 0.2f) continue;
        weights += shape;
        if (!take(planes, map.x(r, c), map.y(r, c), taken)) continue;
        const double d0 = taken.value[0] - appearance.channel(0)(r, c);
        if (round == 0) {
          sum += shape * std::clamp(d0, -2.0, 2.0);
          continue;
        }
        const double d1 = taken.value[1] - appearance.channel(1)(r, c);
        const double d2 = taken.value[2] - appearance.channel(2)(r, c);
        const double lit = d0 - result.light;
        sum += shape / (1 + (lit * lit + d1 * d1 + d2 * d2) / kTolerated);
      }
    (round == 0 ? result.light : result.likeness) = weights > 0 ? sum / weights : 0;
  }
  return result;
}

}  // namespace

PoseFit::PoseFit() : sums_(kMostPlaces, kMostPlaces), light_(kMostPlaces, kMostPlaces) {
  for (Image<float>& plane : coarse_) plane = Image<float>(TargetPatch::kMostSide, TargetPatch::kMostSide);
  cells_.reserve(static_cast<std::size_t>(4 * kCoarseAcross * kCoarseAcross * Appearance::kMargin *
                                          Appearance::kMargin) +
                 64);
}

void PoseFit::shrink(const TargetPatch& patch, int factor) noexcept {
  coarse_rows_ = patch.rows() / factor;
  coarse_cols_ = patch.cols() / factor;
  for (int k = 0; k < kPatchChannels; ++k) {
    const ImageView<float> out{coarse_[k].view().data, coarse_rows_, coarse_cols_, 1, coarse_cols_};
    mean_of_blocks(patch.plane(k), factor, coarse_rows_, coarse_cols_, out);
  }
}

// The appearance at a pose, in coarse cells about the pose's middle.
void PoseFit::render(const Appearance& appearance, const Pose& from, double coarse_px) noexcept {
  cells_.clear();
  const double half_h = 0.5 * from.scale_y() * appearance.rows() * appearance.cell_px() / coarse_px;
  const double half_w = 0.5 * from.scale_x() * appearance.cols() * appearance.cell_px() / coarse_px;
  const int most_row = static_cast<int>(half_h);
  const int most_col = static_cast<int>(half_w);
  for (int r = -most_row; r <= most_row; ++r)
    for (int c = -most_col; c <= most_col; ++c) {
      const Point about = from.about_middle({from.middle.x + c * coarse_px, from.middle.y + r * coarse_px});
      const Point at = appearance.cell_at(about);
      if (at.x < -0.5 || at.y < -0.5 || at.x > appearance.cols() - 0.5 || at.y > appearance.rows() - 0.5 ||
          cells_.size() == cells_.capacity())
        continue;
      const float shape = sampled(appearance.shape(), at.x + 0.5, at.y + 0.5);
      CoarseCell cell{r, c, shape < 0.2f ? 0.0f : shape, kLikelihoodInSearch, {}};
      for (int k = 0; k < kPatchChannels; ++k)
        cell.value[k] = sampled(appearance.channel(k), at.x + 0.5, at.y + 0.5);
      cells_.push_back(cell);
    }
}

// Adds up how much each place differs from the rendered cells. Beyond the patch its edge cells again.
void PoseFit::compare_places(int at_row, int at_col, int reach, ImageView<float> sums,
                             ImageView<float> light) noexcept {
  const int places = sums.cols;
  std::ranges::fill(sums.elements(), 0.0f);
  std::ranges::fill(light.elements(), 0.0f);
  for (const CoarseCell& cell : cells_)
    for (int dy = 0; dy < places; ++dy) {
      const int row = std::clamp(at_row + cell.row + dy - reach, 0, coarse_rows_ - 1);
      const int first = at_col + cell.col - reach;
      const int before = std::clamp(-first, 0, places);
      const int after = std::clamp(first + places - coarse_cols_, 0, places - before);
      const int inside = places - before - after;
      const std::ptrdiff_t line = static_cast<std::ptrdiff_t>(row) * coarse_cols_;
      const auto compare_with = [&](int col, int to, int count) {
        const std::ptrdiff_t at = line + col;
        add_differences(coarse_[0].view().data + at, coarse_[1].view().data + at, coarse_[2].view().data + at,
                        coarse_[3].view().data + at, cell.value.data(), cell.weight, cell.of_likelihood,
                        count, sums.row(dy) + to, light.row(dy) + to);
      };
      for (int i = 0; i < before; ++i) compare_with(0, i, 1);
      if (inside > 0) compare_with(first + before, before, inside);
      for (int i = 0; i < after; ++i) compare_with(coarse_cols_ - 1, before + inside + i, 1);
    }
}

// Turns sums into how much worse each place is than the best, the further away the worse. What changes the light of all
// of it alike is no difference.
void PoseFit::rank_places(int reach, double size, ImageView<float> sums,
                          ImageView<const float> light) const noexcept {
  float weight_sum = 0;
  float all_weights = 0;
  for (const CoarseCell& cell : cells_) {
    weight_sum += cell.weight;
    all_weights += 3 * cell.weight + cell.of_likelihood;
  }
  const std::span<float> all = sums.elements();
  double mean = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (weight_sum > 0) all[i] -= light.data[i] * light.data[i] / weight_sum;
    all[i] /= std::max(all_weights, 1e-6f);
    mean += all[i] / static_cast<double>(all.size());
  }
  float lowest = std::numeric_limits<float>::infinity();
  for (int dy = 0; dy < sums.rows; ++dy)
    for (int dx = 0; dx < sums.cols; ++dx) {
      const double distance = std::hypot(dy - reach, dx - reach) / size;
      sums(dy, dx) += static_cast<float>(kFarPenalty * mean * distance * distance);
      lowest = std::min(lowest, sums(dy, dx));
    }
  for (float& sum : all) sum = lowest - sum;
}

// Where the target is, to a part of a coarse cell.
Point PoseFit::search(const TargetPatch& patch, const Appearance& appearance, const Pose& from,
                      double reach_px) noexcept {
  const double target_cells = from.scale * std::max(appearance.rows(), appearance.cols()) *
                              appearance.cell_px() / Appearance::kMargin / patch.block();
  const int factor = std::max(1, static_cast<int>(std::lround(target_cells / kCoarseAcross)));
  const double coarse_px = 1.0 * factor * patch.block();
  shrink(patch, factor);
  render(appearance, from, coarse_px);
  const int reach =
      std::min(kMostPlaces / 2 - 1, std::max(2, static_cast<int>(std::ceil(reach_px / coarse_px))));
  const int places = 2 * reach + 1;
  const ImageView<float> sums{sums_.view().data, places, places, 1, places};
  const ImageView<float> light{light_.view().data, places, places, 1, places};
  // The coarse cell that holds the pose's middle; the rest of a cell is left to the finer fit.
  const Point middle = patch.cell_at(from.middle);
  const int at_row = static_cast<int>(std::floor((middle.y + 0.5) / factor));
  const int at_col = static_cast<int>(std::floor((middle.x + 0.5) / factor));
  compare_places(at_row, at_col, reach, sums, light);
  rank_places(reach, target_cells / factor, sums, light);
  differences_ = sums;
  const Cell best = highest_cell(differences_);
  const Point part = peak_offset(differences_, best);
  // The middle of the coarse cell that held the middle is where no motion is.
  const Point start = patch.place_at({(at_col + 0.5) * factor - 0.5, (at_row + 0.5) * factor - 0.5});
  return {start.x + (best.col - reach + part.x) * coarse_px,
          start.y + (best.row - reach + part.y) * coarse_px};
}

double PoseFit::likeness(const TargetPatch& patch, const Appearance& appearance, const Pose& pose) noexcept {
  return compared(patch, appearance, pose).likeness;
}

FittedPose PoseFit::find(const TargetPatch& patch, const Appearance& appearance, const Pose& from,
                         double reach_px) noexcept {
  Pose there = from;
  there.middle = search(patch, appearance, from, reach_px);
  return refine(patch, appearance, there);
}

FittedPose PoseFit::refine(const TargetPatch& patch, const Appearance& appearance,
                           const Pose& from) noexcept {
  Comparison at_start = compared(patch, appearance, from);
  Pose pose = from;
  double light = at_start.light;
  for (int i = 0; i < kIterations; ++i) {
    const Unknowns change = step_from(patch, appearance, pose, light);
    // Of cells of the appearance; a step of more than a few is no longer where its slopes hold.
    const double dx = std::clamp(change[0], -2.0, 2.0);
    const double dy = std::clamp(change[1], -2.0, 2.0);
    const double grown = std::clamp(change[2], -0.05, 0.05);
    const double turned = std::clamp(change[3], -0.08, 0.08);
    const double stretched = std::clamp(change[4], -0.05, 0.05);
    light += change[5];
    // The picture at the pose shows the appearance moved by `change`, which the pose has to take back.
    pose.middle = pose.place_of({-dx * appearance.cell_px(), -dy * appearance.cell_px()});
    pose.scale = std::clamp(pose.scale * (1 - grown), from.scale / kMostScaling, from.scale * kMostScaling);
    pose.turn = std::clamp(pose.turn - turned, from.turn - kMostTurn, from.turn + kMostTurn);
    pose.stretch =
        std::clamp(pose.stretch - stretched, from.stretch - kMostStretch, from.stretch + kMostStretch);
    if (std::hypot(dx, dy) < 0.02 && std::abs(grown) < 0.001 && std::abs(turned) < 0.001) break;
  }
  const double likeness = compared(patch, appearance, pose).likeness;
  return likeness >= at_start.likeness ? FittedPose{pose, likeness} : FittedPose{from, at_start.likeness};
}

}  // namespace mnemon
