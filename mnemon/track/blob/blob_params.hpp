// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/blob/blob_follower.hpp>
#include <mnemon/track/confidence.hpp>

namespace mnemon {

/// Describes the members that parameter structs of trackers by blobs share.
template <class P>
void describe_blob(auto& schema) {
  schema.field("reach", &P::reach, {0.1, 3.0}, "target sizes",
               "How far from its forecast the target is looked for; raising it follows faster motion.");
  schema.field("reach_px", &P::reach_px, {0.0, 200.0}, "px",
               "Added to it whatever the target's size; raising it helps small targets that move fast.");
  schema.field(
      "smooth", &P::smooth, {0.0, 0.5}, "target sizes",
      "Width that matches are averaged over first; raising it joins patterned targets and rounds them.");
  schema.field("open", &P::open, {0.0, 0.5}, "target sizes",
               "Matches narrower than this go; raising it takes away specks, and thin parts of the target.");
  schema.field(
      "close", &P::close, {0.0, 0.5}, "target sizes",
      "Gaps narrower than this are filled; raising it joins the target's parts, and what is near it.");
  schema.field("fill_holes", &P::fill_holes, "Whether what a piece encloses is part of it.");
  schema.field(
      "pick", &P::pick, {"alike", "nearest", "largest", "smallest", "roundest"},
      "Which piece is the target: the one most like it in size and place, or by one of these alone.");
  schema.field("gate", &P::gate, {0.2, 10.0}, "target sizes",
               "Size of the box that a piece's middle must lie in; raising it lets the target jump further.");
  schema.field("least_area", &P::least_area, {0.0, 1.0}, "of the usual area",
               "With fewer matches the target is not present; raising it tells losses sooner.");
  schema.field("most_area", &P::most_area, {1.0, 100.0}, "of the usual area",
               "Larger pieces are not the target; raising it lets the target grow at once.");
  schema.field("least_circularity", &P::least_circularity, {0.0, 1.0}, "",
               "Least roundness of a piece, 1 for a disc; raising it keeps only round pieces.");
  schema.field(
      "least_rectangularity", &P::least_rectangularity, {0.0, 1.0}, "",
      "Least share of its tightest turned box that a piece fills; raising it keeps only boxy pieces.");
  schema.field("least_solidity", &P::least_solidity, {0.0, 1.0}, "",
               "Least share of its hull that a piece fills; raising it keeps ragged pieces out.");
  schema.field("size_rate", &P::size_rate, {0.0, 1.0}, "",
               "Weight of the newest piece in the box's size; raising it follows faster and less steadily.");
  schema.field(
      "most_growth", &P::most_growth, {1.0, 2.0}, "",
      "Most that a piece's side may differ from the box's; raising it follows faster changes of size.");
  schema.field("turned_box", &P::turned_box,
               "Whether the box is that of the piece's turned ellipse, instead of an upright one.");
  describe_confidence<P>(schema);
}

/// The rules that these members make.
template <class P>
[[nodiscard]] BlobRules blob_rules_of(const P& p) {
  return {{p.open, p.close, p.fill_holes, p.pick, p.least_area, p.most_area, p.least_circularity,
           p.least_rectangularity, p.least_solidity},
          p.reach,
          p.reach_px,
          p.gate,
          p.smooth,
          p.size_rate,
          p.most_growth,
          p.confidence_half,
          p.confidence_steepness,
          p.present_from,
          p.learn_from,
          p.refind_from,
          p.turned_box};
}

}  // namespace mnemon
