// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/filter_follower.hpp>
#include <mnemon/track/pace.hpp>
#include <mnemon/vision/gradient_histogram.hpp>
/// \file
/// Parameters that followers by correlation filter share: each tracker's struct has members of these names, with
/// defaults of its own.
namespace mnemon {

/// Of the likeness needed to find the target again: what means confidence 0.5.
inline constexpr double kHalfLikeness = 0.67;

/// Describes the member `refind_likeness`.
template <class P>
void describe_likeness(auto& schema) {
  schema.at_step().field(
      "refind_likeness", &P::refind_likeness, {0.0, 1.0}, "",
      "Correlation with the target as it was that a lost one needs; raising it comes back later and "
      "surer.");
}

/// Describes the members `padding`, `reach_px`, `window_cells`, `goal_sigma`, `learning_rate`.
template <class P>
void describe_filter(auto& schema) {
  schema.field("padding", &P::padding, {1.0, 6.0}, "target sizes",
               "Size of the search window; raising it follows faster motion and learns more background.");
  schema.field(
      "reach_px", &P::reach_px, {0.0, 200.0}, "px",
      "Added to the window whatever the target's size; raising it helps small targets that move fast.");
  schema.field("window_cells", &P::window_cells, {16, 64}, "cells",
               "Cells of 4 samples along the window's side; raising it is finer and slower.");
  schema.field("goal_sigma", &P::goal_sigma, {0.02, 0.5}, "target sizes",
               "Width of the peak the filter is taught; raising it forgives more and places less exactly.");
  schema.at_step().field("learning_rate", &P::learning_rate, {0.0, 1.0}, "",
                         "Weight of the newest frame; raising it adapts faster and drifts sooner.");
}

/// Describes the member `learn_wait`.
template <class P>
void describe_learn_wait(auto& schema) {
  schema.at_step().field("learn_wait", &P::learn_wait, {1, 30}, "frames",
                         "From one frame that the filter learns to the next; raising it is quicker.");
}

/// Describes the members `scale_rate` and `pose_wait`.
template <class P>
void describe_scale(auto& schema) {
  schema.field(
      "scale_rate", &P::scale_rate, {0.0, 1.0}, "",
      "Weight of the newest frame in what is known of the size; at 0 the size stays as it was seeded.");
  schema.at_step().field(
      "pose_wait", &P::pose_wait, {1, 30}, "frames",
      "Most frames from one measure of a size or turn that rests to the next; raising it is quicker.");
}

/// Describes the member `focus`.
template <class P>
void describe_focus(auto& schema) {
  schema.field(
      "focus", &P::focus, {0.0, 6.0}, "target sizes",
      "Size of what is learnt of the window; raising it learns more of the surroundings, 0 learns all.");
}

/// The rules that these members make.
template <class P>
[[nodiscard]] FollowRules rules_of(const P& params) {
  FollowRules rules;
  rules.learning_rate = params.learning_rate;
  static_cast<HoldRules&>(rules) = params;
  rules.refind_likeness = params.refind_likeness;
  rules.likeness_half = kHalfLikeness * params.refind_likeness;
  rules.curve.half = params.confidence_half;
  rules.curve.steepness = params.confidence_steepness;
  if constexpr (requires { params.rivals; }) rules.rivals = params;
  if constexpr (requires { params.learn_wait; }) rules.learn_wait = params.learn_wait;
  if constexpr (requires { params.focus; }) rules.focus = params.focus;
  if constexpr (requires { params.scale_rate; }) {
    rules.scale_rate = params.scale_rate;
    rules.pose_wait = params.pose_wait;
  }
  return rules;
}

/// The window of cells that these members make for a target.
template <class P>
[[nodiscard]] PatchWindow cell_window_of(const P& params, const Box& target) {
  return {
      target.w, target.h, {params.padding, params.reach_px, params.window_cells, GradientHistogram::kCell}};
}

}  // namespace mnemon
