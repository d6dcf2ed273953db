// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/image/frame.hpp>
#include <mnemon/sequence/truth.hpp>

namespace mnemon {

/// From where on a difficulty that follows from truth counts as there. Sizes are square roots of the box's area; frames
/// count on which the target is present and at least half of it is seen.
struct TagThresholds {
  double scale = 1.5;        ///< The size is that many times the first one, or the first that many times it.
  double aspect = 1.4;       ///< The same of width over height.
  double rotation_deg = 20;  ///< The angle differs so much from the first one, modulo 180 degrees.
  double fast = 0.35;        ///< The centre moves so many sizes in one frame, on one step in twenty or more.
  double small_px = 24;      ///< The size is below it on half of the frames or more.
  double out_of_view = 0.5;  ///< Share of the box's area that lies outside the picture, or it is absent after
                             ///< its box reached the edge.
};

/// The tags among scale, aspect, rotation, fast, small and out-of-view that hold by these thresholds, in that order.
[[nodiscard]] std::vector<std::string> tags_from_truth(const Truth& truth, FrameSize size,
                                                       const TagThresholds& thresholds = {});

/// The tags that tags_from_truth may give.
[[nodiscard]] bool follows_from_truth(const std::string& tag);

}  // namespace mnemon
