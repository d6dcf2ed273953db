// SPDX-License-Identifier: MIT
#include <mnemon/sequence/frame_files.hpp>

#include <algorithm>
#include <array>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_source.hpp>

namespace mnemon {
namespace fs = std::filesystem;

/// What frames may be kept in. Another kind of file is a line more in the list below.
struct FileKind {
  /// Whether these are such files, by their names.
  bool (*is_of)(const std::vector<fs::path>& paths);
  /// Whether the files themselves tell when each frame was taken.
  bool has_times;
  std::unique_ptr<FrameSource> (*open)(const std::vector<fs::path>& paths, double rate_hz,
                                       const std::vector<double>& times_s);
  /// One frame by its file; null where a file holds many.
  Image<Byte> (*read)(const fs::path& path);
};

namespace {

// The last of them takes what none before it does.
constexpr std::array kFileKinds{
    FileKind{
        [](const std::vector<fs::path>& paths) { return paths.size() != 1 || is_picture_name(paths[0]); },
        false,
        [](const std::vector<fs::path>& paths, double rate_hz, const std::vector<double>& times_s) {
          return open_pictures(paths, rate_hz, times_s);
        },
        read_picture},
    FileKind{[](const std::vector<fs::path>& /*paths*/) { return true; }, true,
             [](const std::vector<fs::path>& paths, double /*rate_hz*/,
                const std::vector<double>& /*times_s*/) { return open_video(paths[0]); },
             nullptr}};

std::vector<fs::path> paths_of(const Sequence& sequence) {
  if (sequence.frames.empty()) return pictures_in(sequence.folder);
  const fs::path frames = sequence.folder / sequence.frames;
  std::error_code code;
  if (fs::is_directory(frames, code)) return pictures_in(frames);
  if (fs::is_regular_file(frames, code) || is_video_name(frames)) return {frames};
  return pictures_like(frames);
}

}  // namespace

FrameFiles::FrameFiles(const Sequence& sequence) : rate_hz_(sequence.rate_hz), times_s_(sequence.times_s) {
  const std::vector<fs::path> paths = paths_of(sequence);
  folder_ = paths.front().parent_path();
  for (const fs::path& path : paths) {
    names_ += path.filename().string();
    ends_.push_back(static_cast<std::uint32_t>(names_.size()));
  }
  names_.shrink_to_fit();
  ends_.shrink_to_fit();
  kind_ = std::ranges::find_if(kFileKinds, [&](const FileKind& kind) { return kind.is_of(paths); });
  if (sequence.times_file.empty()) return;
  const fs::path times = sequence.folder / sequence.times_file;
  if (kind_->has_times)
    throw DataError({times}, "belongs to pictures: a video has times of its own; leave it out");
  if (paths.size() != times_s_.size())
    throw DataError({times},
                    fmt::format("has {} times, and there are {} frames", times_s_.size(), paths.size()));
}

fs::path FrameFiles::path(int file) const {
  const std::uint32_t begin = file == 0 ? 0 : ends_.at(static_cast<std::size_t>(file) - 1);
  return folder_ / names_.substr(begin, ends_.at(static_cast<std::size_t>(file)) - begin);
}

std::vector<fs::path> FrameFiles::paths() const {
  std::vector<fs::path> all;
  for (int i = 0; i < size(); ++i) all.push_back(path(i));
  return all;
}

std::unique_ptr<FrameSource> FrameFiles::open() const { return kind_->open(paths(), rate_hz_, times_s_); }

int FrameFiles::count() const {
  const auto frames = open();
  if (const auto total = frames->total()) return *total;
  int count = 0;
  while (frames->skip()) ++count;
  return count;
}

bool FrameFiles::is_file_each() const noexcept { return kind_->read != nullptr; }

Image<Byte> FrameFiles::read(int frame) const { return kind_->read(path(frame)); }

std::unique_ptr<FrameSource> open_frames(const Sequence& sequence) { return FrameFiles(sequence).open(); }

int count_frames(const Sequence& sequence) { return FrameFiles(sequence).count(); }

}  // namespace mnemon
