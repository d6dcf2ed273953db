// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/blob/piece_picker.hpp>
#include <mnemon/track/hold/hold_rules.hpp>

namespace mnemon {

/// What the trackers by blobs go by: the parameters that they share.
struct BlobRules : PickRules, HoldRules, RivalRules {
  double reach = 0.6;    ///< How far from the forecast the target is looked for, in target sizes,
  double reach_px = 14;  ///< and added to it, px.
  double gate = 1.2;     ///< Size of the box that a piece's middle must lie in, in target sizes.
  double smooth = 0.1;   ///< Width of what weights are averaged over, of the target's shorter side.
  double size_rate = 0.5;
  double most_growth = 1.15;
  bool turned_box = false;

  BlobRules() {
    confidence_half = 0.64;
    confidence_steepness = 6.2;
    present_from = 0.07;
    learn_from = 0.55;
    refind_from = 0.39;
  }

  static void describe(auto& schema) {
    using P = BlobRules;
    schema.at_step().field(
        "reach", &P::reach, {0.1, 3.0}, "target sizes",
        "How far from its forecast the target is looked for; raising it follows faster motion.");
    schema.at_step().field(
        "reach_px", &P::reach_px, {0.0, 200.0}, "px",
        "Added to it whatever the target's size; raising it helps small targets that move fast.");
    schema.at_step().field(
        "smooth", &P::smooth, {0.0, 0.5}, "target sizes",
        "Width that matches are averaged over first; raising it joins patterned targets and rounds them.");
    schema.at_step().field(
        "open", &P::open, {0.0, 0.5}, "target sizes",
        "Matches narrower than this go; raising it takes away specks, and thin parts of the target.");
    schema.at_step().field(
        "close", &P::close, {0.0, 0.5}, "target sizes",
        "Gaps narrower than this are filled; raising it joins the target's parts, and what is near it.");
    schema.at_step().field("fill_holes", &P::fill_holes, "Whether what a piece encloses is part of it.");
    schema.at_step().field(
        "pick", &P::pick, {"alike", "nearest", "largest", "smallest", "roundest"},
        "Which piece is the target: the one most like it in size and place, or by one of these alone.");
    schema.at_step().field(
        "gate", &P::gate, {0.2, 10.0}, "target sizes",
        "Size of the box that a piece's middle must lie in; raising it lets the target jump further.");
    schema.at_step().field("least_area", &P::least_area, {0.0, 1.0}, "of the usual area",
                           "With fewer matches the target is not present; raising it tells losses sooner.");
    schema.at_step().field("most_area", &P::most_area, {1.0, 100.0}, "of the usual area",
                           "Larger pieces are not the target; raising it lets the target grow at once.");
    schema.at_step().field("least_circularity", &P::least_circularity, {0.0, 1.0}, "",
                           "Least roundness of a piece, 1 for a disc; raising it keeps only round pieces.");
    schema.at_step().field(
        "least_rectangularity", &P::least_rectangularity, {0.0, 1.0}, "",
        "Least share of its tightest turned box that a piece fills; raising it keeps only boxy pieces.");
    schema.at_step().field("least_solidity", &P::least_solidity, {0.0, 1.0}, "",
                           "Least share of its hull that a piece fills; raising it keeps ragged pieces out.");
    schema.at_step().field(
        "size_rate", &P::size_rate, {0.0, 1.0}, "",
        "Weight of the newest piece in the box's size; raising it follows faster and less steadily.");
    schema.at_step().field(
        "most_growth", &P::most_growth, {1.0, 2.0}, "",
        "Most that a piece's side may differ from the box's; raising it follows faster changes of size.");
    schema.at_step().field(
        "turned_box", &P::turned_box,
        "Whether the box is that of the piece's turned ellipse, instead of an upright one.");
    HoldRules::describe(schema);
  }
};

}  // namespace mnemon
