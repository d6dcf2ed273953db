// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <functional>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include <mnemon/geometry/box.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/run/protocol.hpp>
#include <mnemon/score/loss_list.hpp>
#include <mnemon/track/tracker.hpp>
/// \file
/// The moments of a run that are worth looking at: crops of the frames around each loss and absence, and what the
/// tracker saw inside at its losses. They are cut while a plan runs, as a report reads nothing but the study.
namespace mnemon {

/// A piece of a frame, made small.
struct StudyCrop {
  int frame = 0;     ///< Its number in the sequence.
  Box window;        ///< What of the frame it shows, px; within the frame.
  std::string jpeg;  ///< The bytes of the picture.
};

/// One of a tracker's inner pictures on one frame, as grey levels or colours.
struct StudyStage {
  int frame = 0;     ///< Its number in the sequence.
  std::string name;  ///< Of the stage.
  double low = 0;    ///< The value that became black.
  double high = 0;   ///< The value that became white.
  std::string jpeg;  ///< The bytes of the picture.
};

/// The frames of a run to cut crops of, rising: before each trouble begins, every one around its beginning, some
/// farther in, and where it ends. The troubles that begin first go first, and as many as `most_bytes` is likely to hold.
/// \param troubles    By rising first frame.
/// \param frames      Of the sequence.
/// \param most_bytes  The room that the crops may take.
[[nodiscard]] std::vector<int> frames_to_cut(std::span<const TroubleRow> troubles, int frames,
                                             std::size_t most_bytes);

/// Cuts crops that show both where the target is and what the tracker answered.
/// \param source      The sequence's frames, from the first.
/// \param numbers     Of the frames, rising.
/// \param truth       Where the target is.
/// \param trace       What the tracker answered.
/// \param most_bytes  Together they take no more; those that no longer fit are left out.
[[nodiscard]] std::vector<StudyCrop> cut_crops(FrameSource& source, std::span<const int> numbers,
                                               const Truth& truth, const Trace& trace,
                                               std::size_t most_bytes);

/// The frames whose inner pictures are kept: one before each loss, its first, and one two frames on; of the first losses.
[[nodiscard]] std::vector<int> frames_to_look_into(std::span<const TroubleRow> troubles);

/// Runs a tracker once more, as it was run, and keeps its inner pictures on some frames.
/// \param tracker  A fresh one.
/// \param source   The sequence's frames, from the first.
/// \param start    Where the run began.
/// \param numbers Rising.
/// \param most_bytes  Together they take no more; those that no longer fit are left out.
/// \throws Error  as the tracker and the frames do.
[[nodiscard]] std::vector<StudyStage> stages_on(Tracker& tracker, FrameSource& source, const Start& start,
                                                std::span<const int> numbers, std::size_t most_bytes);

}  // namespace mnemon
