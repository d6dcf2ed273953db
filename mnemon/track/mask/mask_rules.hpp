// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/hold/confidence.hpp>
#include <mnemon/track/hold/hold_rules.hpp>
#include <mnemon/track/mask/mask_cutter.hpp>
#include <mnemon/track/pace.hpp>

namespace mnemon {

inline constexpr double kWhole = 0.9;  ///< Visible share of a target that counts as seen whole.

/// What the trackers by masks go by: the parameters that they share.
struct MaskRules : CutRules, HoldRules {
  std::string pace = "usual";
  int cells = 32;        ///< Along a target's longer side, at the least, where it has as many pixels.
  double reach = 0.5;    ///< How far from the forecast the target is looked for, in target sizes,
  double reach_px = 12;  ///< and added to it, px.
  double appearance_rate = 0.15;  ///< Learning rates.
  double shape_rate = 0.1;
  double colour_rate = 0.05;
  double appearance_anchor = 0.5;  ///< Pull of the seed's appearance, as a share of its rate.
  double shape_anchor = 0.2;
  bool turned_box = false;
  bool refit = false;

  MaskRules() {
    confidence_half = 0.5;
    confidence_steepness = 8;
    present_from = 0.4;
    learn_from = 0.85;
    refind_from = 0.9;
  }

  static void describe(auto& schema) {
    using P = MaskRules;
    schema.at_step().field(
        "cells", &P::cells, {16, 80}, "cells",
        "Along a target's longer side, at the least, where it has as many pixels; raising it is finer "
        "and slower.");
    schema.at_step().field(
        "reach", &P::reach, {0.1, 2.0}, "target sizes",
        "How far from its forecast the target is looked for; raising it follows faster motion, more "
        "coarsely.");
    schema.at_step().field(
        "reach_px", &P::reach_px, {0.0, 100.0}, "px",
        "Added to it whatever the target's size; raising it helps small targets that move fast.");
    schema.at_step().field(
        "colour_weight", &P::colour_weight, {0.0, 4.0}, "",
        "How much colours decide what is target; raising it suits targets unlike their surroundings.");
    schema.at_step().field(
        "shape_weight", &P::shape_weight, {0.0, 4.0}, "",
        "How much the shape so far decides; raising it suits targets that keep their shape.");
    schema.at_step().field(
        "smoothness", &P::smoothness, {0.0, 10.0}, "",
        "What a border between like cells costs; raising it makes masks rounder and keeps specks out.");
    schema.at_step().field(
        "appearance_rate", &P::appearance_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in what the target looks like; raising it adapts and drifts sooner.");
    schema.at_step().field(
        "shape_rate", &P::shape_rate, {0.0, 1.0}, "",
        "Weight of the newest mask in the target's shape; raising it follows changes of shape and "
        "drifts sooner.");
    schema.at_step().field(
        "shape_anchor", &P::shape_anchor, {0.0, 5.0}, "of shape_rate",
        "How strongly the seed's shape pulls the shape back; raising it suits targets that keep "
        "their shape.");
    schema.at_step().field(
        "appearance_anchor", &P::appearance_anchor, {0.0, 5.0}, "of appearance_rate",
        "How strongly what the target looked like at first pulls back; raising it drifts less and "
        "adapts less.");
    schema.at_step().field(
        "colour_rate", &P::colour_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in the colours of target and surroundings; raising it follows "
        "changing light.");
    schema.at_step().field("turned_box", &P::turned_box,
                           "Whether the box is a turned one that fits the mask, instead of an upright one.");
    schema.field(
        "refit", &P::refit,
        "Whether the box is drawn anew around the target where the marked one is a little off, instead "
        "of keeping its relation to the target.");
    HoldRules::describe(schema);
  }
};

}  // namespace mnemon
