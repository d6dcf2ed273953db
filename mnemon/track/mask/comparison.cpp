// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/comparison.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/track/mask/patch_cells.hpp>

namespace mnemon {
namespace {

constexpr double kNoise = 0.1;  // squares of all channels about their means that are hardly worth comparing
constexpr double kLeastCompared = 0.25;  // of the shape, for what is in the picture to stand for all

// Weighted sums of two rows of numbers, of their squares and their products.
struct Moments {
  double a = 0, b = 0, aa = 0, bb = 0, ab = 0;
  void add(double weight, double one, double other) noexcept {
    a += weight * one;
    b += weight * other;
    aa += weight * one * one;
    bb += weight * other * other;
    ab += weight * one * other;
  }
};

}  // namespace

Comparison compare(const TargetPatch& patch, const Appearance& appearance, const Pose& pose,
                   ImageView<const float> visible) noexcept {
  const Planes planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  Taken taken;
  Comparison result;
  // What should be beyond the picture cannot be compared; beyond the patch it is unlike.
  const TargetPatch::Extent picture = patch.picture();
  double weights = 0;
  // In two rounds: the light first.
  for (int round = 0; round < 2; ++round) {
    double sum = 0;
    double all = 0;
    weights = 0;
    for (int r = 0; r < appearance.rows(); ++r)
      for (int c = 0; c < appearance.cols(); ++c) {
        float shape = appearance.shape()(r, c);
        if (shape < kLeastShape) continue;
        if (!visible.empty()) shape *= visible(r, c);
        all += shape;
        if (!is_within(picture, map.x(r, c), map.y(r, c))) continue;
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
    weights = std::max(weights, kLeastCompared * all);
    (round == 0 ? result.light : result.likeness) = weights > 0 ? sum / weights : 0;
  }
  return result;
}

double correlation(const TargetPatch& patch, const Appearance& appearance, const Pose& pose,
                   ImageView<const float> visible) noexcept {
  const Planes planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  Taken taken;
  double weights = 0;
  Moments of_channel[kLikelihood];
  for (int r = 0; r < appearance.rows(); ++r)
    for (int c = 0; c < appearance.cols(); ++c) {
      const float shape = appearance.shape()(r, c) * (visible.empty() ? 1 : visible(r, c));
      if (shape < kLeastShape || !take(planes, map.x(r, c), map.y(r, c), taken)) continue;
      weights += shape;
      for (int k = 0; k < kLikelihood; ++k)
        of_channel[k].add(shape, taken.value[k], appearance.channel(k)(r, c));
    }
  if (weights <= 0) return 0;
  // What both have of noise is alike: of plain targets nothing else is left.
  double together = kNoise * weights;
  double one = together;
  double other = together;
  for (const Moments& m : of_channel) {
    together += m.ab - m.a * m.b / weights;
    one += m.aa - m.a * m.a / weights;
    other += m.bb - m.b * m.b / weights;
  }
  return together / std::sqrt(one * other);
}

}  // namespace mnemon
