// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/pose_fit.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/track/mask/agreement.hpp>

namespace mnemon {
namespace {

constexpr int kIterations = 6;         // at the most; most fits rest sooner
constexpr double kMostScaling = 1.12;  // from the pose that a fit starts from
constexpr double kMostTurn = 0.25;     // radians
constexpr double kMostStretch = 0.08;  // logarithm

}  // namespace

TargetPose PoseFit::find_place(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                               double reach_px) noexcept {
  TargetPose there = from;
  there.middle = search_.find(patch, appearance, from, reach_px);
  return there;
}

FittedPose PoseFit::refine(const TargetPatch& patch, const Appearance& appearance, const TargetPose& from,
                           const CellPlane* visible) noexcept {
  equations_.start(appearance, visible);
  start_.take(patch, appearance, from);
  const Agreement at_start = agreement(start_, appearance, visible);
  TargetPose pose = from;
  double light = at_start.light;
  const CellSamples* seen = &start_;
  for (int i = 0; i < kIterations; ++i) {
    const PoseStep step = equations_.solve(*seen, appearance, light, std::log(pose.scale / from.scale),
                                           pose.stretch - from.stretch);
    // Of cells of the appearance; a step of more than a few is no longer where its slopes hold.
    const double dx = std::clamp(step.x, -2.0, 2.0);
    const double dy = std::clamp(step.y, -2.0, 2.0);
    const double grown = std::clamp(step.grown, -0.05, 0.05);
    const double turned = std::clamp(step.turned, -0.08, 0.08);
    const double stretched = std::clamp(step.stretched, -0.05, 0.05);
    light += step.light;
    // The picture at the pose shows the appearance moved by the step, which the pose has to take back.
    pose.middle = pose.place_of({-dx * appearance.cell_px(), -dy * appearance.cell_px()});
    pose.scale = std::clamp(pose.scale * (1 - grown), from.scale / kMostScaling, from.scale * kMostScaling);
    pose.turn = std::clamp(pose.turn - turned, from.turn - kMostTurn, from.turn + kMostTurn);
    pose.stretch =
        std::clamp(pose.stretch - stretched, from.stretch - kMostStretch, from.stretch + kMostStretch);
    end_.take(patch, appearance, pose);
    seen = &end_;
    if (std::hypot(dx, dy) < 0.02 && std::abs(grown) < 0.001 && std::abs(turned) < 0.001) break;
  }
  const double likeness = agreement(end_, appearance, visible).likeness;
  keeps_start_ = likeness < at_start.likeness;
  return keeps_start_ ? FittedPose{from, at_start.likeness} : FittedPose{pose, likeness};
}

}  // namespace mnemon
