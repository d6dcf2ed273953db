// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string>

#include <mnemon/media/interrupt.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// Frames from wherever somebody has them.
struct Input {
  Sequence sequence;                    ///< Without folder, frames and truth where the frames are a stream.
  std::unique_ptr<FrameSource> frames;  ///< Open at the first.
  bool is_stream = false;  ///< The frames come once, in their own time, and nobody knows how many.
};

/// Opens frames by name.
/// \param name  `-`: YUV4MPEG2 on standard input; `camera:DEVICE`: a capture device; `camera:sim:SEQUENCE`: a
///              sequence played at its rate as a camera would show it, frames that nobody takes in time being
///              dropped; anything else is a path as read_sequence takes it.
/// \param interrupt  Ends a stream, also while a frame is waited for. Must outlive the frames.
/// \throws CallError  where nothing of that name is there; DataError  where it cannot be read.
[[nodiscard]] Input open_input(const std::string& name, const Interrupt& interrupt);

}  // namespace mnemon
