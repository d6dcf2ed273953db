// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/image/image.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// A frame with a tracker's estimate drawn on it: its box, its name and confidence, and a thick frame with
/// the word `lost` where it says that it does not see the target.
/// \param truth  Drawn white and dashed where it is there and present; may be null.
[[nodiscard]] Image<Byte> overlay_picture(const Frame& frame, const std::string& tracker, const TraceRow& row,
                                          const TruthRow* truth);

/// A stage as a grey picture to look at: its lowest value black and its highest white, magnified by a whole
/// number until it is at least 256 pixels long.
[[nodiscard]] Image<Byte> stage_picture(const Stage& stage);

}  // namespace mnemon
