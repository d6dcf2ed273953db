// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

struct FileKind;

/// The files that hold a sequence's frames, looked for once: what is asked of them later lists no folder again. Any thread may
/// ask.
class FrameFiles {
 public:
  /// Finds them.
  /// \throws DataError  where there are none, one is missing, or there are not as many as there are times.
  explicit FrameFiles(const Sequence& sequence);

  /// How many there are.
  [[nodiscard]] int size() const noexcept { return static_cast<int>(ends_.size()); }

  /// Pictures in order, or one video.
  [[nodiscard]] std::vector<std::filesystem::path> paths() const;

  /// The frames, from the first.
  /// \throws DataError  where a video cannot be opened.
  [[nodiscard]] std::unique_ptr<FrameSource> open() const;

  /// How many frames there are: those of a video are counted by decoding it, each time, as its header may be wrong.
  /// \throws DataError  where it is damaged.
  [[nodiscard]] int count() const;

  /// Whether each frame has a file of its own, so that `read` can be asked for any.
  [[nodiscard]] bool is_file_each() const noexcept;

  /// A frame by itself.
  /// \param frame  From 0, of sequences whose frames have a file each.
  /// \throws DataError  where it cannot be read.
  [[nodiscard]] Image<Byte> read(int frame) const;

 private:
  [[nodiscard]] std::filesystem::path path(int file) const;

  const FileKind* kind_ = nullptr;
  std::filesystem::path folder_;     // of all of them
  std::string names_;                // one after the other: a plan over many sequences holds those of all
  std::vector<std::uint32_t> ends_;  // of each name
  double rate_hz_ = 30;
  std::vector<double> times_s_;
};

}  // namespace mnemon
