// SPDX-License-Identifier: MIT
#pragma once
#include <condition_variable>
#include <cstddef>
#include <list>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include <mnemon/media/frame_source.hpp>

namespace mnemon {

/// A frame that stays as long as somebody has it.
struct KeptFrame {
  std::shared_ptr<const Image<Byte>> rgb;  ///< The picture, which lives as long as this does.
  int index = 0;                           ///< Of the frame in its sequence, from 0.
  double time_s = 0;                       ///< Since the first frame, s.

  /// A view of it, as trackers take it.
  [[nodiscard]] Frame frame() const { return {rgb->view(), index, time_s}; }
};

/// The frames of a sequence by number, in any order. Those used last stay in memory, up to a bound, and while frames are
/// asked for one after the other the next ones are read ahead. Frames of a live picture are put there as they come, and the oldest
/// ones go. Any thread may ask.
class FrameShelf {
 public:
  /// \param open   Opens the frames from the first.
  /// \param bytes  How much memory frames may take; one is kept in any case.
  /// \throws Error  as `open` does.
  explicit FrameShelf(OpenFrames open, std::size_t bytes = std::size_t{384} << 20);
  /// A shelf for frames that are put there.
  explicit FrameShelf(std::size_t bytes = std::size_t{768} << 20) : bytes_(bytes) {}
  FrameShelf(const FrameShelf&) = delete;
  FrameShelf& operator=(const FrameShelf&) = delete;
  ~FrameShelf();

  /// \throws CallError  where there is no such frame, or it is kept no longer; DataError  where it cannot be read.
  [[nodiscard]] KeptFrame at(int index);

  /// Adds a frame to a shelf for frames that are put there: it gets the next number.
  void put(ImageView<const Byte> rgb, double time_s);

  /// The first frame that can still be asked for.
  [[nodiscard]] int first();

  /// How many frames there are. Where only decoding all of them tells it, as of a video without stamps, that is done once, here.
  /// \throws DataError  where one of them is damaged.
  [[nodiscard]] int count();

 private:
  [[nodiscard]] std::optional<KeptFrame> kept(int index);
  [[nodiscard]] KeptFrame read(int index);
  void go_to(int index);
  void keep(const KeptFrame& frame);
  void read_ahead();

  OpenFrames open_;  // empty where frames are put there
  std::size_t bytes_;
  std::mutex source_mutex_;  // taken before shelf_mutex_
  std::unique_ptr<FrameSource> source_;
  int next_ = 0;  // of the source
  std::optional<int> count_;
  std::mutex shelf_mutex_;
  std::list<KeptFrame> shelf_;  // used last first
  int wanted_ = -1;             // up to here frames are read ahead
  int asked_ = -1;              // last
  bool is_over_ = false;
  std::condition_variable wants_;
  std::thread ahead_;
};

}  // namespace mnemon
