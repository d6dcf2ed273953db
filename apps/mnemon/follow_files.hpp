// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <fstream>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/video_sink.hpp>
#include <mnemon/report/overlay.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon::app {

/// What `follow` is to leave behind; empty names for what is not wanted.
struct FollowFiles {
  std::string tracker;
  std::string trace;
  std::string overlay;
  std::string stages;
  std::string masks;
  std::vector<std::string> beside;  ///< Traces to draw beside the tracker's.
  std::string review;               ///< Frames for a person to look at.
  double review_below = 0.7;        ///< Confidence.
  bool overwrite = false;           ///< Whether folders of pictures that are there may be replaced.
};

/// Writes a trace as its rows come. The file is there once `finish` has returned. Where the work ends early nothing
/// is left behind, but of a stream, which cannot be followed again: its rows are written as they come under the name
/// with `.partial` behind it, and stay there however the program ends.
class TraceFile {
 public:
  /// \param remark  What the file says of how its frames were taken; empty for nothing.
  TraceFile(std::string file, bool is_of_stream, TraceColumns columns, const std::string& remark);
  ~TraceFile();
  TraceFile(const TraceFile&) = delete;
  TraceFile& operator=(const TraceFile&) = delete;

  /// \throws DataError  where it cannot be written.
  void put(const TraceRow& row);
  void finish();

 private:
  void check() const;

  std::string target_;
  std::filesystem::path partial_;  // of a stream
  std::optional<NewFile> file_;    // of anything else
  std::ofstream out_;
  TraceColumns columns_;
  int rows_ = 0;
  bool flushes_;
  bool finished_ = false;
};

/// Lists the frames that a person should look at: those on which the tracker was less sure than it should be, and those
/// on which it lost or found the target again. The file is there once `finish` has returned.
class ReviewFile {
 public:
  ReviewFile(std::string file, double below) : file_(std::move(file)), below_(below) {}

  void put(const TraceRow& row);
  void finish() const;
  [[nodiscard]] int frames() const noexcept { return frames_; }

 private:
  std::string file_;
  double below_;
  std::string text_ = "frame,confidence,present,why\n";
  bool was_present_ = true;
  int frames_ = 0;
};

/// Writes the pictures of each frame, into folders or a video that appear only when all is done.
class FollowPictures {
 public:
  /// \param rate_hz  Of an overlay that is a video.
  /// \throws CallError  for names that cannot be written.
  FollowPictures(const FollowFiles& files, const Sequence& sequence, double rate_hz);

  void take(const Frame& frame, const TraceRow& row, Tracker& tracker);
  void finish();

 private:
  void draw(const Frame& frame, const TraceRow& row, const std::string& name);

  const Sequence& sequence_;
  std::string tracker_;
  Overlay overlay_;
  std::map<std::string, Trace> beside_;
  std::optional<double> start_s_;  // when the first frame was
  std::unique_ptr<VideoSink> video_;
  std::unique_ptr<NewFolder> frames_;
  std::unique_ptr<NewFolder> stages_;
  std::unique_ptr<NewFolder> masks_;
};

}  // namespace mnemon::app
