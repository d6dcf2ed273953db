// SPDX-License-Identifier: MIT
#include <mnemon/media/frame_shelf.hpp>

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

constexpr int kAhead = 8;  // frames

}  // namespace

FrameShelf::FrameShelf(OpenFrames open, std::size_t bytes)
    : open_(std::move(open)), bytes_(bytes), source_(open_()), ahead_([this] { read_ahead(); }) {}

FrameShelf::~FrameShelf() {
  {
    const std::scoped_lock lock(shelf_mutex_);
    is_over_ = true;
  }
  wants_.notify_all();
  if (ahead_.joinable()) ahead_.join();
}

KeptFrame FrameShelf::at(int index) {
  if (!open_) {
    if (const auto frame = kept(index)) return *frame;
    throw CallError(index >= 0 && index < first()
                        ? fmt::format("frame {} is kept no longer; the first that is is {}", index, first())
                        : fmt::format("there is no frame {} yet", index));
  }
  const auto ask = [&] {
    const std::scoped_lock lock(shelf_mutex_);
    // Whoever goes on from frame to frame will want the next ones.
    wanted_ = index == asked_ + 1 ? index + kAhead : -1;
    asked_ = index;
  };
  ask();
  auto frame = kept(index);
  if (!frame) {
    const std::scoped_lock lock(source_mutex_);
    frame = kept(index);  // read by another thread meanwhile
    if (!frame) frame = read(index);
  }
  wants_.notify_one();
  return *frame;
}

std::optional<KeptFrame> FrameShelf::kept(int index) {
  const std::scoped_lock lock(shelf_mutex_);
  const auto found = std::ranges::find(shelf_, index, &KeptFrame::index);
  if (found == shelf_.end()) return std::nullopt;
  if (!open_) return *found;  // the oldest goes, whoever used it
  shelf_.splice(shelf_.begin(), shelf_, found);
  return shelf_.front();
}

KeptFrame FrameShelf::read(int index) {
  const auto refuse = [index] { throw CallError(fmt::format("there is no frame {}", index)); };
  if (index < 0) refuse();
  if (index != next_) go_to(index);
  next_ = -1;  // until the frame has been read well
  const auto frame = source_->next();
  if (!frame) refuse();
  next_ = index + 1;
  KeptFrame read{std::make_shared<const Image<Byte>>(copy_of(frame->rgb)), index, frame->time_s};
  keep(read);
  return read;
}

// A few frames on it is quicker to pass over those between.
void FrameShelf::go_to(int index) {
  const bool is_near = next_ >= 0 && index > next_ && index < next_ + kAhead;
  if (!is_near) {
    if (source_->seek(index)) return;
    source_ = open_();
    next_ = 0;
  }
  for (; next_ < index; ++next_)
    if (!source_->skip()) {
      const int count = next_;
      next_ = -1;
      throw CallError(fmt::format("there is no frame {}; there are {}", index, count));
    }
}

void FrameShelf::keep(const KeptFrame& frame) {
  const std::scoped_lock lock(shelf_mutex_);
  shelf_.push_front(frame);
  std::size_t bytes = 0;
  auto one = shelf_.begin();
  for (; one != shelf_.end(); ++one) {
    const ImageView<const Byte> rgb = one->rgb->view();
    bytes += static_cast<std::size_t>(rgb.rows) * static_cast<std::size_t>(rgb.row_length());
    if (bytes > bytes_ && one != shelf_.begin()) break;
  }
  shelf_.erase(one, shelf_.end());
}

void FrameShelf::put(ImageView<const Byte> rgb, double time_s) {
  int index = 0;
  {
    const std::scoped_lock lock(source_mutex_);
    index = count_.value_or(0);
  }
  keep({std::make_shared<const Image<Byte>>(copy_of(rgb)), index, time_s});
  const std::scoped_lock lock(source_mutex_);
  count_ = index + 1;
}

int FrameShelf::first() {
  const std::scoped_lock lock(shelf_mutex_);
  return open_ || shelf_.empty() ? 0 : shelf_.back().index;
}

void FrameShelf::read_ahead() {
  for (;;) {
    int next = -1;
    {
      std::unique_lock lock(shelf_mutex_);
      const auto first_missing = [this] {
        for (int i = asked_ + 1; i <= wanted_; ++i)
          if (std::ranges::find(shelf_, i, &KeptFrame::index) == shelf_.end()) return i;
        return -1;
      };
      wants_.wait(lock, [&] { return is_over_ || (next = first_missing()) >= 0; });
      if (is_over_) return;
    }
    const std::scoped_lock lock(source_mutex_);
    if (kept(next)) continue;
    try {
      static_cast<void>(read(next));
    } catch (const Error&) {
      // Whoever asks for that frame is told; here it is the end.
      const std::scoped_lock shelf_lock(shelf_mutex_);
      wanted_ = std::min(wanted_, next - 1);
    }
  }
}

int FrameShelf::count() {
  const std::scoped_lock lock(source_mutex_);
  if (count_) return *count_;
  if (!open_) return 0;
  count_ = source_->total();
  if (!count_) {
    const auto counted = open_();
    static_cast<void>(counted->seek(0));  // looks it up
    count_ = counted->total();
    if (!count_) {
      const auto passed = open_();
      int frames = 0;
      while (passed->skip()) ++frames;
      count_ = frames;
    }
  }
  return *count_;
}

}  // namespace mnemon
