// SPDX-License-Identifier: MIT
#pragma once
#include <memory>

#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/interrupt.hpp>

namespace mnemon {

/// How far to read ahead, and what.
struct ReadAhead {
  int frames = 4;  ///< At most so many wait; from 1.
  int step = 1;    ///< Of every so many frames the first is given, the others are passed over; from 1.
};

/// Reads another source on a thread of its own, a bounded number of frames ahead. Frames, their order and an
/// error among them are those of the source.
[[nodiscard]] std::unique_ptr<FrameSource> read_ahead(std::unique_ptr<FrameSource> source,
                                                      ReadAhead ahead = {});

/// Makes a source give each frame no earlier than its time, counted from the first frame asked for, as if
/// it were being taken now.
[[nodiscard]] std::unique_ptr<FrameSource> paced(std::unique_ptr<FrameSource> source);

/// Takes frames from a source all the time, on a thread of its own, and gives the newest: those that come
/// while nobody asks are dropped, as a camera does. A dropped frame is seen by the gap in the numbers.
/// \param interrupt  Ends the frames, also while one is waited for. Must outlive the source.
[[nodiscard]] std::unique_ptr<FrameSource> newest_only(std::unique_ptr<FrameSource> source,
                                                       const Interrupt& interrupt);

}  // namespace mnemon
