// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <memory>
#include <string>

#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/interrupt.hpp>
/// \file
/// Moving pictures as frames. They are shown as their makers meant: turned as the file says, with square pixels;
/// a frame's time is its own, counted from the first frame. Colours without a stated matrix are read by ITU-R
/// BT.601. Nothing but the file itself is opened, whatever names it holds.
namespace mnemon {

/// True where the name ends as video files do, in small or capital letters.
[[nodiscard]] bool is_video_name(const std::filesystem::path& file);

/// A video file of any form that the installed libraries read. Frames are decoded when they are asked for.
/// A damaged file gives its frames up to the damage, then an error that names the frame.
/// \throws DataError  where it is missing or holds no video.
[[nodiscard]] std::unique_ptr<FrameSource> open_video(const std::filesystem::path& file);

/// YUV4MPEG2 from standard input, each frame as soon as it has come whole.
/// \param interrupt  Ends the frames, also while one is waited for. Must outlive the source.
/// \throws DataError  where what comes is something else.
[[nodiscard]] std::unique_ptr<FrameSource> open_standard_input(const Interrupt& interrupt);

/// A capture device of Video4Linux, such as `/dev/video0`. Frames wait in the driver until they are taken.
/// `interrupt`, which must outlive the source, ends the frames once the next has come.
/// \throws DataError  where it cannot be opened.
[[nodiscard]] std::unique_ptr<FrameSource> open_capture_device(const std::string& device,
                                                               const Interrupt& interrupt);

}  // namespace mnemon
