// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/pose_fit.hpp>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>

#include <Eigen/Dense>

#include <mnemon/base/clones.hpp>
#include <mnemon/image/bilinear.hpp>
#include <mnemon/signal/peak.hpp>
#include <mnemon/track/mask/agreement.hpp>
#include <mnemon/track/mask/patch_cells.hpp>

namespace mnemon {
namespace {

constexpr double kCoarseAcross = 11;  // coarse cells along the target
constexpr int kMostPlaces = 64;       // of a coarse search, each way
// Cells of an appearance along a side.
constexpr std::size_t kMostCells = static_cast<std::size_t>(Appearance::kMargin * Appearance::kAcross) + 2;
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
constexpr double kHeld = 0.01;         // of the moment of a target of equal slopes, by which its size is held

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

// A cell's channels side by side.
using Four = float __attribute__((vector_size(16)));
static_assert(kPatchChannels == 4);

Four load(const float* from) noexcept {
  Four four;
  std::memcpy(&four, from, sizeof four);
  return four;
}

double sum_of_lanes(Four four) noexcept { return (four[0] + four[1]) + (four[2] + four[3]); }

// The sums of a least squares step: of place, size, turn, stretch and a change of light. A cell at (x, y) moves by
// (1, 0), (0, 1), (x, y), (-y, x) and (x, -y) with each of the first five unknowns: linear in (1, x, y), so that moments of
// what the cells say are all that is needed of them.
constexpr int kUnknowns = 6;
using Unknowns = Eigen::Matrix<double, kUnknowns, 1>;

class NormalEquations {
 public:
  // A row of cells: weighted products of slopes across (x), slopes down (y) and differences (d), by powers of the column.
  struct Row {
    Four xx[3] = {}, xy[3] = {}, yy[3] = {};
    Four xd[2] = {}, yd[2] = {};
    Four weight = {}, wx[2] = {}, wy[2] = {}, wd = {};

    void add(Four counts, Four across, Four down, Four difference, float x) noexcept {
      const Four w = counts / (1.0f + difference * difference * static_cast<float>(1 / kTolerated));
      const Four by_across = w * across;
      const Four by_down = w * down;
      const auto add_powers = [x](Four(&sums)[3], Four value) {
        sums[0] += value;
        sums[1] += x * value;
        sums[2] += x * x * value;
      };
      const auto add_two = [x](Four(&sums)[2], Four value) {
        sums[0] += value;
        sums[1] += x * value;
      };
      add_powers(xx, by_across * across);
      add_powers(xy, by_across * down);
      add_powers(yy, by_down * down);
      add_two(xd, by_across * difference);
      add_two(yd, by_down * difference);
      add_two(wx, by_across);
      add_two(wy, by_down);
      weight += w;
      wd += w * difference;
    }
  };

  void add(const Row& row, double y) noexcept {
    const auto squares = [y](const Four(&sums)[3]) {
      const double one = sum_of_lanes(sums[0]);
      const double x = sum_of_lanes(sums[1]);
      return Eigen::Matrix3d{
          {one, x, y * one}, {x, sum_of_lanes(sums[2]), y * x}, {y * one, y * x, y * y * one}};
    };
    const auto linear = [y](double one, double x) { return Eigen::Vector3d(one, x, y * one); };
    xx_ += squares(row.xx);
    xy_ += squares(row.xy);
    yy_ += squares(row.yy);
    xd_ += linear(sum_of_lanes(row.xd[0]), sum_of_lanes(row.xd[1]));
    yd_ += linear(sum_of_lanes(row.yd[0]), sum_of_lanes(row.yd[1]));
    // Light is the first channel.
    wx_ += linear(row.wx[0][0], row.wx[1][0]);
    wy_ += linear(row.wy[0][0], row.wy[1][0]);
    weight_ += row.weight[0];
    wd_ += row.wd[0];
  }

  // Holds size and stretch to what they were, against changes so far, logarithms: else a target that goes behind something
  // is taken to shrink to what is left of it.
  void hold(double grown, double stretched, double held) noexcept {
    held_ = held;
    grown_ = grown;
    stretched_ = stretched;
  }

  // With a little added to the diagonal, so that what cannot be told stays as it is.
  [[nodiscard]] Unknowns solved() const noexcept {
    const Eigen::Matrix<double, 5, 3> across{{1, 0, 0}, {0, 0, 0}, {0, 1, 0}, {0, 0, -1}, {0, 1, 0}};
    const Eigen::Matrix<double, 5, 3> down{{0, 0, 0}, {1, 0, 0}, {0, 0, 1}, {0, 1, 0}, {0, 0, -1}};
    Eigen::Matrix<double, kUnknowns, kUnknowns> a;
    Unknowns b;
    a.topLeftCorner<5, 5>() = across * xx_ * across.transpose() + across * xy_ * down.transpose() +
                              down * xy_ * across.transpose() + down * yy_ * down.transpose();
    a.bottomLeftCorner<1, 5>() = (across * wx_ + down * wy_).transpose();
    a.topRightCorner<5, 1>() = a.bottomLeftCorner<1, 5>().transpose();
    a(5, 5) = weight_;
    b << across * xd_ + down * yd_, wd_;
    a(2, 2) += held_;
    a(4, 4) += held_;
    b(2) += held_ * grown_;
    b(4) += held_ * stretched_;
    a.diagonal() = 1.001 * a.diagonal() + Unknowns::Constant(1e-6);
    return a.selfadjointView<Eigen::Lower>().llt().solve(b);
  }

 private:
  Eigen::Matrix3d xx_ = Eigen::Matrix3d::Zero(), xy_ = xx_, yy_ = xx_;
  Eigen::Vector3d xd_ = Eigen::Vector3d::Zero(), yd_ = xd_, wx_ = xd_, wy_ = xd_;
  double weight_ = 0;
  double wd_ = 0;
  double held_ = 0;
  double grown_ = 0;
  double stretched_ = 0;
};

}  // namespace

PoseFit::PoseFit()
    : slopes_(kMostCells * kMostCells),
      mixed_(TargetPatch::kMostSide, TargetPatch::kMostSide, kPatchChannels),
      sums_(kMostPlaces, kMostPlaces),
      light_(kMostPlaces, kMostPlaces) {
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
void PoseFit::render(const Appearance& appearance, const TargetPose& from, double coarse_px) noexcept {
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
Point PoseFit::search(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
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

FittedPose PoseFit::find(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                         double reach_px, ImageView<const float> visible) noexcept {
  TargetPose there = from;
  there.middle = search(patch, appearance, from, reach_px);
  return refine(patch, appearance, there, visible);
}

// What a fit needs of an appearance's cells: their channels, the slopes of these, and what each counts for.
void PoseFit::take_slopes(const Appearance& appearance, ImageView<const float> visible) noexcept {
  std::size_t i = 0;
  for (int r = 1; r + 1 < appearance.rows(); ++r)
    for (int c = 1; c + 1 < appearance.cols(); ++c, ++i) {
      const float shape = appearance.shape()(r, c);
      SlopeCell& cell = slopes_[i];
      for (int k = 0; k < kPatchChannels; ++k) {
        const ImageView<const float> channel = appearance.channel(k);
        cell.value[k] = channel(r, c);
        cell.across[k] = 0.5f * (channel(r, c + 1) - channel(r, c - 1));
        cell.down[k] = 0.5f * (channel(r + 1, c) - channel(r - 1, c));
        const float counts = k == kLikelihood ? kLikelihoodInFit : shape;
        cell.counts[k] = counts < kLeastCounted ? 0.0f : counts * (visible.empty() ? 1 : visible(r, c));
      }
    }
}

void PoseFit::mix_channels(const TargetPatch& patch) noexcept {
  for (int r = 0; r < patch.rows(); ++r) {
    float* to = mixed_.view().row(r);
    const std::array<const float*, kPatchChannels> from{patch.plane(0).row(r), patch.plane(1).row(r),
                                                        patch.plane(2).row(r), patch.plane(3).row(r)};
    for (int c = 0; c < patch.cols(); ++c)
      for (int k = 0; k < kPatchChannels; ++k) *to++ = from[k][c];
  }
}

// One step; what is compared is weighed by the shape and by how little it differs.
PoseFit::Step PoseFit::step_from(const TargetPatch& patch, const Appearance& appearance,
                                 const TargetPose& from, const TargetPose& pose,
                                 double light) const noexcept {
  const CellMap map = map_of(patch, appearance, pose);
  const ImageView<const float> mixed = mixed_.view();
  const TargetPatch::Extent extent = patch.in_picture();
  const Four lit{static_cast<float>(light), 0, 0, 0};
  NormalEquations equations;
  const SlopeCell* cell = slopes_.data();
  for (int r = 1; r + 1 < appearance.rows(); ++r) {
    NormalEquations::Row row;
    for (int c = 1; c + 1 < appearance.cols(); ++c, ++cell) {
      const auto x = static_cast<float>(map.x(r, c));
      const auto y = static_cast<float>(map.y(r, c));
      if (!is_within(extent, x, y)) continue;
      const int left = static_cast<int>(x);
      const int top = static_cast<int>(y);
      const float across = x - static_cast<float>(left);
      const float* const p = mixed.row(top) + kPatchChannels * left;
      const float* const q = p + mixed.stride;
      const Four upper = load(p) + across * (load(p + kPatchChannels) - load(p));
      const Four lower = load(q) + across * (load(q + kPatchChannels) - load(q));
      const Four taken = upper + (y - static_cast<float>(top)) * (lower - upper);
      row.add(load(cell->counts.data()), load(cell->across.data()), load(cell->down.data()),
              taken - load(cell->value.data()) - lit, static_cast<float>(c + 0.5 - 0.5 * appearance.cols()));
    }
    equations.add(row, r + 0.5 - 0.5 * appearance.rows());
  }
  equations.hold(std::log(pose.scale / from.scale), pose.stretch - from.stretch,
                 kHeld * std::pow(0.25 * appearance.rows() * appearance.cols(), 2));
  const Unknowns change = equations.solved();
  return {change[0], change[1], change[2], change[3], change[4], change[5]};
}

FittedPose PoseFit::refine(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                           ImageView<const float> visible) noexcept {
  mix_channels(patch);
  take_slopes(appearance, visible);
  const Agreement at_start = agreement(patch, appearance, from, visible);
  TargetPose pose = from;
  double light = at_start.light;
  for (int i = 0; i < kIterations; ++i) {
    const Step change = step_from(patch, appearance, from, pose, light);
    // Of cells of the appearance; a step of more than a few is no longer where its slopes hold.
    const double dx = std::clamp(change.x, -2.0, 2.0);
    const double dy = std::clamp(change.y, -2.0, 2.0);
    const double grown = std::clamp(change.grown, -0.05, 0.05);
    const double turned = std::clamp(change.turned, -0.08, 0.08);
    const double stretched = std::clamp(change.stretched, -0.05, 0.05);
    light += change.light;
    // The picture at the pose shows the appearance moved by `change`, which the pose has to take back.
    pose.middle = pose.place_of({-dx * appearance.cell_px(), -dy * appearance.cell_px()});
    pose.scale = std::clamp(pose.scale * (1 - grown), from.scale / kMostScaling, from.scale * kMostScaling);
    pose.turn = std::clamp(pose.turn - turned, from.turn - kMostTurn, from.turn + kMostTurn);
    pose.stretch =
        std::clamp(pose.stretch - stretched, from.stretch - kMostStretch, from.stretch + kMostStretch);
    if (std::hypot(dx, dy) < 0.02 && std::abs(grown) < 0.001 && std::abs(turned) < 0.001) break;
  }
  const double likeness = agreement(patch, appearance, pose, visible).likeness;
  return likeness >= at_start.likeness ? FittedPose{pose, likeness} : FittedPose{from, at_start.likeness};
}

}  // namespace mnemon
