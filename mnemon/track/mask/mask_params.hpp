// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/confidence.hpp>
#include <mnemon/track/mask/mask_target.hpp>

namespace mnemon {

/// Describes the members that parameter structs of trackers by masks share.
template <class P>
void describe_mask(auto& schema) {
  schema.field(
      "reach", &P::reach, {0.1, 2.0}, "target sizes",
      "How far from its forecast the target is looked for; raising it follows faster motion, more coarsely.");
  schema.field("reach_px", &P::reach_px, {0.0, 100.0}, "px",
               "Added to it whatever the target's size; raising it helps small targets that move fast.");
  schema.field("colour_weight", &P::colour_weight, {0.0, 4.0}, "",
               "How much colours decide what is target; raising it suits targets unlike their surroundings.");
  schema.field("shape_weight", &P::shape_weight, {0.0, 4.0}, "",
               "How much the shape so far decides; raising it suits targets that keep their shape.");
  schema.field(
      "smoothness", &P::smoothness, {0.0, 10.0}, "",
      "What a border between like cells costs; raising it makes masks rounder and keeps specks out.");
  schema.field(
      "look_rate", &P::look_rate, {0.0, 1.0}, "",
      "Weight of the newest frame in what the target looks like; raising it adapts and drifts sooner.");
  schema.field("shape_rate", &P::shape_rate, {0.0, 1.0}, "",
               "Weight of the newest mask in the target's shape; raising it follows changes of shape and "
               "drifts sooner.");
  schema.field(
      "shape_anchor", &P::shape_anchor, {0.0, 5.0}, "of shape_rate",
      "How strongly the seed's shape pulls the shape back; raising it suits targets that keep their shape.");
  schema.field("look_anchor", &P::look_anchor, {0.0, 5.0}, "of look_rate",
               "How strongly what the target looked like at first pulls back; raising it drifts less and "
               "adapts less.");
  schema.field("colour_rate", &P::colour_rate, {0.0, 1.0}, "",
               "Weight of the newest frame in the colours of target and surroundings; raising it follows "
               "changing light.");
  schema.field("turned_box", &P::turned_box,
               "Whether the box is the tightest turned one around the mask, instead of an upright one.");
  describe_confidence<P>(schema);
}

/// The rules that these members make.
template <class P>
[[nodiscard]] MaskRules mask_rules_of(const P& p) {
  return {{p.colour_weight, p.shape_weight, p.smoothness},
          p.reach,
          p.reach_px,
          p.look_rate,
          p.shape_rate,
          p.shape_anchor,
          p.look_anchor,
          p.colour_rate,
          p.confidence_half,
          p.confidence_steepness,
          p.present_from,
          p.learn_from,
          p.refind_from,
          p.turned_box};
}

}  // namespace mnemon
