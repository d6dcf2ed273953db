// SPDX-License-Identifier: MIT
#include <mnemon/desk/reel.hpp>

#include <algorithm>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/input.hpp>

namespace mnemon {
namespace {

constexpr int kSmallWidth = 320;    // px
constexpr int kSmallQuality = 70;   // of JPEG
constexpr int kMostSmall = 12'000;  // pictures, 10 kB each

}  // namespace

Reel::Reel(const std::string& name, std::function<void()> news) : name_(name), news_(std::move(news)) {
  Input input = open_input(name, interrupt_);
  sequence_ = std::move(input.sequence);
  is_live_ = input.is_stream;
  if (is_live_) {
    shelf_ = std::make_unique<FrameShelf>();
    worker_ = std::jthread([this, source = std::move(input.frames)](const std::stop_token& stop) mutable {
      record(std::move(source), stop);
    });
    return;
  }
  shelf_ = std::make_unique<FrameShelf>([this] { return open_frames(sequence_); });
  size_ = shelf_->at(0).frame().size();  // an input without a frame is refused now
  count_ = shelf_->count();
  stride_ = 1 + count_ / kMostSmall;
  worker_ = std::jthread([this](const std::stop_token& stop) { make_small(stop); });
}

Reel::~Reel() {
  worker_.request_stop();
  interrupt_.raise();
}

FrameSize Reel::size() {
  const std::scoped_lock lock(mutex_);
  return size_;
}

void Reel::make_small(const std::stop_token& stop) {
  try {
    const auto frames = open_frames(sequence_);
    for (int i = 0; !stop.stop_requested(); ++i) {
      if (i % stride_ != 0) {
        if (!frames->skip()) break;
      } else {
        const auto frame = frames->next();
        if (!frame) break;
        const int width = std::min(kSmallWidth, frame->rgb.cols);
        std::string jpeg = jpeg_bytes(resized_to_width(frame->rgb, width).view(), kSmallQuality);
        const std::scoped_lock lock(mutex_);
        small_.push_back(std::move(jpeg));
      }
      small_done_ = i + 1;
      news_();
    }
  } catch (const std::exception& error) {
    say_trouble(error.what());
  }
}

void Reel::record(std::unique_ptr<FrameSource> source, const std::stop_token& stop) {
  try {
    while (!stop.stop_requested()) {
      const auto frame = source->next();
      if (!frame) break;
      shelf_->put(frame->rgb, frame->time_s);
      {
        const std::scoped_lock lock(mutex_);
        size_ = frame->size();
        if (remark_.empty()) remark_ = source->remark();
      }
      news_();
    }
  } catch (const std::exception& error) {
    say_trouble(error.what());
  }
}

void Reel::say_trouble(const std::string& what) {
  {
    const std::scoped_lock lock(mutex_);
    trouble_ = what;
  }
  news_();
}

std::optional<std::string> Reel::small(int frame) {
  const std::scoped_lock lock(mutex_);
  const auto at = static_cast<std::size_t>(std::max(0, frame) / stride_);
  return at < small_.size() ? std::optional(small_[at]) : std::nullopt;
}

std::string Reel::remark() {
  const std::scoped_lock lock(mutex_);
  return remark_;
}

std::string Reel::trouble() {
  const std::scoped_lock lock(mutex_);
  return trouble_;
}

}  // namespace mnemon
