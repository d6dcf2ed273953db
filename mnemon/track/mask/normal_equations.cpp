// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/normal_equations.hpp>

#include <algorithm>
#include <cmath>

#include <Eigen/Cholesky>

#include <mnemon/base/clones.hpp>
#include <mnemon/track/mask/agreement.hpp>

namespace mnemon {
namespace {

// More of a likelihood beside the other channels lets a pose swell over surroundings of like colour.
constexpr float kLikelihoodShare = 0.15f;
constexpr float kLeastCounted = 0.04f;  // of the shape: cells beyond it are not the target's
constexpr double kHeld = 0.01;  // of the moment of a target of equal slopes, by which its size is held

constexpr int kUnknowns = 6;
using Unknowns = Eigen::Matrix<double, kUnknowns, 1>;

MNEMON_CLONES void slopes_of_row(const float* __restrict above, const float* __restrict here,
                                 const float* __restrict below, int count, float* __restrict across,
                                 float* __restrict down) noexcept {
  for (int i = 0; i < count; ++i) {
    across[i] = 0.5f * (here[i + 1] - here[i - 1]);
    down[i] = 0.5f * (below[i] - above[i]);
  }
}

MNEMON_CLONES void count_row(const float* __restrict shape, const float* __restrict visible, int count,
                             float* __restrict counts, float* __restrict likelihood_counts) noexcept {
  for (int i = 0; i < count; ++i) {
    counts[i] = shape[i] < kLeastCounted ? 0.0f : shape[i] * visible[i];
    likelihood_counts[i] = kLikelihoodShare * visible[i];
  }
}

// A cell at (x, y) moves by (1, 0), (0, 1), (x, y), (-y, x) and (x, -y) with each of the unknowns but light: linear in
// (1, x, y), so that moments of what the cells say are all that is needed of them. Here the moments of products of slopes
// across (a), slopes down (b) and differences (d), and of those of light (w) alone.
struct CellProducts {
  const float *aa, *ab, *bb, *ad, *bd, *wa, *wb, *w, *wd;
};
struct LinearSums {
  Parts one{}, x{}, y{};
};
struct QuadraticSums {
  Parts one{}, x{}, y{}, xx{}, xy{}, yy{};
};
struct MomentSums {
  QuadraticSums aa, ab, bb;
  LinearSums ad, bd, wa, wb;
  Parts w{}, wd{};
};

// What a cell's channel says, row by row: what is seen, what is known of it, and what it counts.
struct Channel {
  const float* seen;
  const float* known;
  const float* across;
  const float* down;
  const float* counts;
  const float* taken;
};

// The weighted products of one channel, added to those of the channels before it.
MNEMON_CLONES void add_products(const Channel& channel, float light, int count, float* __restrict aa,
                                float* __restrict ab, float* __restrict bb, float* __restrict ad,
                                float* __restrict bd) noexcept {
  const Channel from = channel;
  for (int i = 0; i < count; ++i) {
    const float d = from.seen[i] - from.known[i] - light;
    const float w = from.counts[i] * from.taken[i] / (1 + d * d * (1 / kTolerated));
    const float wa = w * from.across[i];
    const float wb = w * from.down[i];
    aa[i] += wa * from.across[i];
    ab[i] += wa * from.down[i];
    bb[i] += wb * from.down[i];
    ad[i] += wa * d;
    bd[i] += wb * d;
  }
}

// Those of light alone, that tell of its change.
MNEMON_CLONES void light_products(const Channel& channel, float light, int count, float* __restrict w,
                                  float* __restrict wd, float* __restrict wa, float* __restrict wb) noexcept {
  const Channel from = channel;
  for (int i = 0; i < count; ++i) {
    const float d = from.seen[i] - from.known[i] - light;
    const float weight = from.counts[i] * from.taken[i] / (1 + d * d * (1 / kTolerated));
    w[i] = weight;
    wd[i] = weight * d;
    wa[i] = weight * from.across[i];
    wb[i] = weight * from.down[i];
  }
}

inline __attribute__((always_inline)) void add(const float* values, const Parts& x, float y,
                                               LinearSums& sums) noexcept {
  for (int k = 0; k < kCellLanes; ++k) {
    sums.one[k] += values[k];
    sums.x[k] += x[k] * values[k];
    sums.y[k] += y * values[k];
  }
}

inline __attribute__((always_inline)) void add(const float* values, const Parts& x, float y,
                                               QuadraticSums& sums) noexcept {
  for (int k = 0; k < kCellLanes; ++k) {
    const float by_x = x[k] * values[k];
    const float by_y = y * values[k];
    sums.one[k] += values[k];
    sums.x[k] += by_x;
    sums.y[k] += by_y;
    sums.xx[k] += x[k] * by_x;
    sums.xy[k] += y * by_x;
    sums.yy[k] += y * by_y;
  }
}

// \param first_x, first_y  Of the first cell, from the middle.
MNEMON_CLONES void add_moments(const CellProducts& products, int rows, int stride, float first_x,
                               float first_y, MomentSums& sums) noexcept {
  MomentSums local;
  for (int r = 0; r < rows; ++r)
    for (int first = 0; first < stride; first += kCellLanes) {
      const std::ptrdiff_t at = std::ptrdiff_t{r} * stride + first;
      Parts x;
      for (int k = 0; k < kCellLanes; ++k) x[k] = first_x + static_cast<float>(first + k);
      const float y = first_y + static_cast<float>(r);
      add(products.aa + at, x, y, local.aa);
      add(products.ab + at, x, y, local.ab);
      add(products.bb + at, x, y, local.bb);
      add(products.ad + at, x, y, local.ad);
      add(products.bd + at, x, y, local.bd);
      add(products.wa + at, x, y, local.wa);
      add(products.wb + at, x, y, local.wb);
      for (int k = 0; k < kCellLanes; ++k) {
        local.w[k] += products.w[at + k];
        local.wd[k] += products.wd[at + k];
      }
    }
  sums = local;
}

Eigen::Vector3d vector_of(const LinearSums& sums) noexcept {
  return {sum_of(sums.one), sum_of(sums.x), sum_of(sums.y)};
}

Eigen::Matrix3d matrix_of(const QuadraticSums& sums) noexcept {
  const double x = sum_of(sums.x);
  const double y = sum_of(sums.y);
  const double xy = sum_of(sums.xy);
  return Eigen::Matrix3d{{sum_of(sums.one), x, y}, {x, sum_of(sums.xx), xy}, {y, xy, sum_of(sums.yy)}};
}

// \param held  What a change of size or stretch costs.
PoseStep solution(const MomentSums& sums, double held, double grown, double stretched) noexcept {
  const Eigen::Matrix3d ab = matrix_of(sums.ab);
  const Eigen::Matrix<double, 5, 3> across{{1, 0, 0}, {0, 0, 0}, {0, 1, 0}, {0, 0, -1}, {0, 1, 0}};
  const Eigen::Matrix<double, 5, 3> down{{0, 0, 0}, {1, 0, 0}, {0, 0, 1}, {0, 1, 0}, {0, 0, -1}};
  Eigen::Matrix<double, kUnknowns, kUnknowns> a;
  Unknowns b;
  a.topLeftCorner<5, 5>() = across * matrix_of(sums.aa) * across.transpose() +
                            across * ab * down.transpose() + down * ab * across.transpose() +
                            down * matrix_of(sums.bb) * down.transpose();
  a.bottomLeftCorner<1, 5>() = (across * vector_of(sums.wa) + down * vector_of(sums.wb)).transpose();
  a.topRightCorner<5, 1>() = a.bottomLeftCorner<1, 5>().transpose();
  a(5, 5) = sum_of(sums.w);
  b << across * vector_of(sums.ad) + down * vector_of(sums.bd), sum_of(sums.wd);
  a(2, 2) += held;
  a(4, 4) += held;
  b(2) += held * grown;
  b(4) += held * stretched;
  // With a little added to the diagonal, so that what cannot be told stays as it is.
  a.diagonal() = 1.001 * a.diagonal() + Unknowns::Constant(1e-6);
  const Unknowns step = a.selfadjointView<Eigen::Lower>().llt().solve(b);
  return {step[0], step[1], step[2], step[3], step[4], step[5]};
}

}  // namespace

NormalEquations::NormalEquations(int rows, int cols)
    : counts_(rows, cols), likelihood_counts_(rows, cols), all_(rows, cols) {
  std::ranges::fill(all_.all(), 1.0f);
  for (int k = 0; k < kPatchChannels; ++k) {
    across_[k] = CellPlane(rows, cols);
    down_[k] = CellPlane(rows, cols);
  }
  for (const auto plane : {&Products::aa, &Products::ab, &Products::bb, &Products::ad, &Products::bd,
                           &Products::w, &Products::wd, &Products::wa, &Products::wb})
    products_.*plane = CellPlane(rows, cols);
}

void NormalEquations::start(const Appearance& appearance, const CellPlane* visible) noexcept {
  const int count = appearance.cols() - 2;
  for (int r = 1; r + 1 < appearance.rows(); ++r) {
    for (int k = 0; k < kPatchChannels; ++k) {
      const ImageView<const float> channel = appearance.channel(k);
      slopes_of_row(channel.row(r - 1) + 1, channel.row(r) + 1, channel.row(r + 1) + 1, count,
                    across_[k].view().row(r) + 1, down_[k].view().row(r) + 1);
    }
    count_row(appearance.shape().row(r) + 1, (visible != nullptr ? *visible : all_).view().row(r) + 1, count,
              counts_.view().row(r) + 1, likelihood_counts_.view().row(r) + 1);
  }
}

PoseStep NormalEquations::solve(const CellSamples& seen, const Appearance& appearance, double light,
                                double grown, double stretched) noexcept {
  const int stride = padded(appearance.cols());
  const int count = appearance.rows() * stride;
  const auto numbers = [](CellPlane& plane) { return plane.all().data(); };
  Products& all = products_;
  for (CellPlane* plane : {&all.aa, &all.ab, &all.bb, &all.ad, &all.bd})
    std::ranges::fill(plane->all(), 0.0f);
  for (int k = 0; k < kPatchChannels; ++k) {
    const Channel channel{seen.channel(k).all().data(),
                          appearance.channel(k).data,
                          across_[k].all().data(),
                          down_[k].all().data(),
                          (k == kLikelihood ? likelihood_counts_ : counts_).all().data(),
                          seen.taken().all().data()};
    const auto lighter = static_cast<float>(k == 0 ? light : 0);
    add_products(channel, lighter, count, numbers(all.aa), numbers(all.ab), numbers(all.bb), numbers(all.ad),
                 numbers(all.bd));
    if (k == 0)
      light_products(channel, lighter, count, numbers(all.w), numbers(all.wd), numbers(all.wa),
                     numbers(all.wb));
  }
  MomentSums sums;
  add_moments({numbers(all.aa), numbers(all.ab), numbers(all.bb), numbers(all.ad), numbers(all.bd),
               numbers(all.wa), numbers(all.wb), numbers(all.w), numbers(all.wd)},
              appearance.rows(), stride, static_cast<float>(0.5 - 0.5 * appearance.cols()),
              static_cast<float>(0.5 - 0.5 * appearance.rows()), sums);
  const double held = kHeld * std::pow(0.25 * appearance.rows() * appearance.cols(), 2);
  return solution(sums, held, grown, stretched);
}

}  // namespace mnemon
