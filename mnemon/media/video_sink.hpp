// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <memory>

#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Writes frames into a video file: MPEG-4 Part 2 at its finest quantiser, in the container that the name's
/// ending says (.mp4, .mov, .avi, .mkv), or YUV4MPEG2, which loses no more than a grey level or two (.y4m). The
/// same frames give the same bytes. The file is there once `finish` has returned, or not at all.
/// Not to be shared by threads.
class VideoSink {
 public:
  /// \param file     What to write; what is there is replaced.
  /// \param rate_hz  How fast the frames are to be shown, on average.
  /// \throws CallError  for another ending; DataError  where it cannot be written.
  VideoSink(std::filesystem::path file, double rate_hz);
  VideoSink(VideoSink&&) noexcept;
  VideoSink& operator=(VideoSink&&) noexcept;
  ~VideoSink();

  /// Adds a frame. In MPEG-4 an odd width or height loses its last column or row.
  /// \param rgb     At least 2 x 2 pixels, all of one size.
  /// \param time_s  When it is to be shown, rising; .avi and .y4m know an even rate only.
  /// \throws CallError  where the size is another; DataError  where writing fails.
  void add(ImageView<const Byte> rgb, double time_s);

  /// Writes what is still held back and gives the file its name.
  /// \throws DataError  where that fails.
  void finish();

 private:
  struct Parts;
  std::unique_ptr<Parts> parts_;
};

/// The endings that a VideoSink writes, for messages.
[[nodiscard]] const char* video_sink_endings() noexcept;

/// True where a VideoSink can write a file of that name.
[[nodiscard]] bool is_video_sink_name(const std::filesystem::path& file);

}  // namespace mnemon
