// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <functional>
#include <memory>
#include <vector>

#include <mnemon/media/frame_source.hpp>

namespace mnemon {

/// Where the frames of a sequence come from.
struct FrameOrigin {
  int count = 0;                         ///< How many there are.
  FrameSize size;                        ///< Of each.
  double rate_hz = 30;                   ///< Frames a second.
  std::function<Image<Byte>(int)> make;  ///< Any frame, from any thread; empty where they only come in order.
  std::function<std::unique_ptr<FrameSource>()> open;  ///< All of them, from the first.
};

/// The frames of a sequence for several runs at a time: read once and kept, or, where they do not fit into the memory
/// that they may take, read by each run for itself. What a run sees is the same either way.
class FrameStore {
 public:
  /// \param origin     Must outlive the store.
  /// \param most_bytes The memory that the frames may take.
  /// \param jobs       Threads to read with; 0: as many as cores.
  /// \throws DataError  where a frame is missing, broken or of another size.
  FrameStore(const FrameOrigin& origin, std::size_t most_bytes, int jobs);

  /// The frames from the first. The store must outlive them. Any thread may ask.
  [[nodiscard]] std::unique_ptr<FrameSource> open() const;

  /// Whether the frames are in memory, and not read again each time.
  [[nodiscard]] bool is_kept() const noexcept { return !frames_.empty(); }

 private:
  const FrameOrigin& origin_;
  std::vector<Image<Byte>> frames_;
};

/// The memory that there is for frames: half of what machine and container have free now, bytes.
[[nodiscard]] std::size_t memory_for_frames();

}  // namespace mnemon
