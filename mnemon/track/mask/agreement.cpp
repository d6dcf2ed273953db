// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/agreement.hpp>

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

// The mean over the visible cells of an appearance: of what `weighed(shape, r, c, values)` says of a cell, times its
// share in the shape. What should be beyond the picture cannot be compared; beyond the patch it counts as 0.
double mean_over_cells(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                       ImageView<const float> visible, auto weighed) noexcept {
  const PatchPlanes planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  const TargetPatch::Extent picture = patch.picture();
  PatchValues values;
  double sum = 0;
  double all = 0;
  double compared = 0;
  for (int r = 0; r < appearance.rows(); ++r)
    for (int c = 0; c < appearance.cols(); ++c) {
      float shape = appearance.shape()(r, c);
      if (shape < kLeastShape) continue;
      if (!visible.empty()) shape *= visible(r, c);
      all += shape;
      if (!is_within(picture, map.x(r, c), map.y(r, c))) continue;
      compared += shape;
      if (take(planes, map.x(r, c), map.y(r, c), values)) sum += weighed(shape, r, c, values);
    }
  compared = std::max(compared, kLeastCompared * all);
  return compared > 0 ? sum / compared : 0;
}

double light_over_cells(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                        ImageView<const float> visible) noexcept {
  return mean_over_cells(patch, appearance, pose, visible,
                         [&](float shape, int r, int c, const PatchValues& values) {
                           const double d0 = values.value[0] - appearance.channel(0)(r, c);
                           return shape * std::clamp(d0, -2.0, 2.0);
                         });
}

}  // namespace

Agreement agreement(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                    ImageView<const float> visible) noexcept {
  const double light = light_over_cells(patch, appearance, pose, visible);
  const double likeness = mean_over_cells(
      patch, appearance, pose, visible, [&](float shape, int r, int c, const PatchValues& values) {
        const double d0 = values.value[0] - appearance.channel(0)(r, c) - light;
        const double d1 = values.value[1] - appearance.channel(1)(r, c);
        const double d2 = values.value[2] - appearance.channel(2)(r, c);
        return shape / (1 + (d0 * d0 + d1 * d1 + d2 * d2) / kTolerated);
      });
  return {light, likeness};
}

double lighter_by(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose) noexcept {
  return light_over_cells(patch, appearance, pose, {});
}

double correlation(const TargetPatch& patch, const Appearance& appearance, const TargetPose& pose,
                   ImageView<const float> visible) noexcept {
  const PatchPlanes planes = planes_of(patch);
  const CellMap map = map_of(patch, appearance, pose);
  PatchValues taken;
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
