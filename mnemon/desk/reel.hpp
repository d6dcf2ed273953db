// SPDX-License-Identifier: MIT
#pragma once
#include <atomic>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include <mnemon/media/frame_shelf.hpp>
#include <mnemon/media/interrupt.hpp>
#include <mnemon/sequence/sequence.hpp>

namespace mnemon {

/// The frames that somebody works on, by number: those of a sequence, or those that a live picture has brought so far. Of a
/// sequence small pictures of all frames are made in the background. Any thread may ask.
class Reel {
 public:
  /// \param name  As open_input takes it, but for standard input.
  /// \param news  Called when there is a new frame or small picture, on another thread; must not throw.
  /// \throws CallError  where nothing of that name is there; DataError  where it cannot be read.
  Reel(const std::string& name, std::function<void()> news);
  Reel(const Reel&) = delete;
  Reel& operator=(const Reel&) = delete;
  ~Reel();

  /// What the frames were opened by.
  [[nodiscard]] const std::string& name() const noexcept { return name_; }
  /// What is known of the frames.
  [[nodiscard]] const Sequence& sequence() const noexcept { return sequence_; }
  /// Whether frames still come.
  [[nodiscard]] bool is_live() const noexcept { return is_live_; }
  /// The frames themselves.
  [[nodiscard]] FrameShelf& frames() noexcept { return *shelf_; }
  /// How many there are by now.
  [[nodiscard]] int count() { return is_live_ ? shelf_->count() : count_; }
  /// The size of the frames; 0 x 0 while none has come.
  [[nodiscard]] FrameSize size();

  /// A small picture of a frame or one near it, as JPEG; nothing where there is none yet.
  [[nodiscard]] std::optional<std::string> small(int frame);
  /// For how many frames there are small pictures.
  [[nodiscard]] int small_done() const noexcept { return small_done_; }
  /// What is to be said of how a camera takes the frames; empty for nothing.
  [[nodiscard]] std::string remark();
  /// Why no further frames come, or can be read; empty where all is well.
  [[nodiscard]] std::string trouble();

 private:
  void make_small(const std::stop_token& stop);
  void record(std::unique_ptr<FrameSource> source, const std::stop_token& stop);
  void say_trouble(const std::string& what);

  std::string name_;
  std::function<void()> news_;
  Interrupt interrupt_;
  Sequence sequence_;
  bool is_live_ = false;
  int count_ = 0;  // of a sequence: nobody waits for a frame that is being read
  std::unique_ptr<FrameShelf> shelf_;
  std::mutex mutex_;
  std::vector<std::string> small_;  // of every so many frames
  std::string trouble_;
  std::string remark_;
  FrameSize size_;
  int stride_ = 1;
  std::atomic<int> small_done_ = 0;
  std::jthread worker_;  // ends before all the rest
};

}  // namespace mnemon
