// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/image/image.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// One tracker's answer, to be drawn.
struct Drawn {
  std::string label;  ///< In the legend.
  TraceRow row;       ///< What the tracker says.
};

/// Draws frame after frame of one sequence. Each tracker has its colour, its kind of line and a trail of where it
/// was. In a band below the picture stand the frame's number and each tracker's label with its confidence, and the
/// word `lost` where it says that it does not see the target. Not to be shared by threads.
class Overlay {
 public:
  /// \param trail  How many earlier places each trail shows; 0 for none.
  explicit Overlay(int trail = 24) : trail_(trail) {}

  /// \param frame    What is drawn on.
  /// \param answers  The first is the one that matters: a thick frame along the picture's edge says that it is lost.
  /// \param truth    Drawn white and dashed where it is there and present; may be null.
  /// \param mask     The target's true mask, outlined in white; may be empty.
  [[nodiscard]] Image<Byte> draw(const Frame& frame, const std::vector<Drawn>& answers, const TruthRow* truth,
                                 ImageView<const Byte> mask = {});

 private:
  int trail_;
  std::vector<std::vector<Point>> places_;
};

/// The estimate as a mask: 255 where the middle of a pixel lies in the box, 0 elsewhere and where the target is not
/// held to be present; one channel.
[[nodiscard]] Image<Byte> box_mask(const TraceRow& row, FrameSize size);

/// A stage as a grey picture to look at: its lowest value black and its highest white, magnified by a whole
/// number until it is at least 256 pixels long.
[[nodiscard]] Image<Byte> stage_picture(const Stage& stage);

/// A frame with a stage laid over it, half and half where the stage lies.
/// \param rgb    The frame.
/// \param stage  1 or 3 channels.
/// \param area   Where it lies, px of the frame.
[[nodiscard]] Image<Byte> with_stage_over(ImageView<const Byte> rgb, ImageView<const Byte> stage,
                                          const OrientedBox& area);

}  // namespace mnemon
