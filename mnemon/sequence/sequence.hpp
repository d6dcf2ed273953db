// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <mnemon/geometry/polygon.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/sequence/truth.hpp>

namespace mnemon {

class FrameFiles;

/// Frames over which a tag holds, both ends included.
struct TagSpan {
  std::string tag;  ///< Of those that are known.
  int from = 0;     ///< The first frame.
  int to = 0;       ///< The last frame, which belongs to it.
  bool operator==(const TagSpan&) const = default;
};

/// What position from size needs of the camera.
struct CameraFacts {
  double focal_px = 0;  ///< Focal length, px.
  Point centre_px;      ///< Where the optical axis meets the picture, px.
};

/// What is known of the target.
struct TargetFacts {
  std::string label;                  ///< What it is, in a word.
  std::optional<double> diameter_mm;  ///< Across, where it is round.
};

/// A sequence as its `sequence.toml` describes it, a plain folder of pictures, or a video.
struct Sequence {
  std::string name;              ///< The folder's own name.
  std::filesystem::path folder;  ///< Where it is.
  std::string title;             ///< In a few words; empty for none.
  /// From the folder: a pattern such as `frames/%06d.jpg`, a folder of pictures, or a video; empty: all pictures
  /// in the folder itself.
  std::string frames;
  double rate_hz = 30;      ///< Frames a second.
  std::string truth_file;   ///< From the folder; empty where there is no truth.
  std::string masks;        ///< A pattern; empty where there are no masks.
  std::string times_file;   ///< When each picture was taken, from the folder; empty: `rate_hz` says it.
  std::string others_file;  ///< Where look-alikes are, from the folder; empty where nothing is known of any.
  std::vector<std::string> tags;      ///< What is hard about all of it.
  std::vector<TagSpan> spans;         ///< What is hard about parts of it.
  std::vector<Polygon> keep_out;      ///< Areas that are never the target, px.
  std::optional<CameraFacts> camera;  ///< Where they are known.
  std::optional<TargetFacts> target;  ///< Where they are known.
  Truth truth;                        ///< Empty where there is none.
  std::vector<double> times_s =
      {};  ///< Of each frame, since the first; empty where there is no file of times.

  /// Whether what is right is known on any frame.
  [[nodiscard]] bool has_truth() const noexcept { return !truth.rows.empty(); }
};

/// The words for difficulties that a sequence may be tagged with.
[[nodiscard]] std::span<const std::string_view> known_tags() noexcept;

/// \throws CallError  where the word is not among known_tags, naming the nearest.
void check_tag(const std::string& tag);

/// Reads a sequence.
/// \param path  A folder with a `sequence.toml`, that file, a folder of pictures, or a video.
/// \throws DataError  naming file, line and column; CallError  where nothing is there.
[[nodiscard]] Sequence read_sequence(const std::filesystem::path& path);

/// The frames, from the first: FrameFiles::open, where nothing else is asked of the files.
/// \throws DataError  where they are missing or no pictures, or there are not as many as there are times.
[[nodiscard]] std::unique_ptr<FrameSource> open_frames(const Sequence& sequence);

/// The true masks of the frames with the target present, those that are there.
/// \throws DataError  where one is damaged.
[[nodiscard]] std::vector<FrameRuns> read_true_masks(const Sequence& sequence);

/// How many frames there are: FrameFiles::count, where nothing else is asked of the files.
/// \throws DataError  where they are missing or damaged.
[[nodiscard]] int count_frames(const Sequence& sequence);

/// Writes `sequence.toml` and, where there is truth, the truth file into `folder`.
void write_sequence(const Sequence& sequence, const std::filesystem::path& folder);

/// A number that changes when any byte of the truth, the description, a frame's file or a mask's does.
/// \param files  Those of the sequence's frames.
[[nodiscard]] std::string fingerprint(const Sequence& sequence, const FrameFiles& files);

}  // namespace mnemon
