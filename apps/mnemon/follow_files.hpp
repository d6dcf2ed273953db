// SPDX-License-Identifier: MIT
#pragma once
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
};

/// Writes a trace as its rows come. The file is there once `finish` has returned. Where the work ends early nothing
/// is left behind, but of a stream, which cannot be followed again: what there is stays under the name with
/// `.partial` behind it.
class TraceFile {
 public:
  TraceFile(std::string file, bool is_of_stream);
  ~TraceFile();
  TraceFile(const TraceFile&) = delete;
  TraceFile& operator=(const TraceFile&) = delete;

  void put(const TraceRow& row);
  void finish();

 private:
  std::string target_;
  NewFile file_;
  std::ofstream out_;
  bool is_of_stream_;
  int rows_ = 0;
  bool finished_ = false;
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
