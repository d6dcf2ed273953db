// SPDX-License-Identifier: MIT
#include <mnemon/media/read_ahead.hpp>

#include <chrono>
#include <condition_variable>
#include <cstring>
#include <exception>
#include <mutex>
#include <thread>
#include <utility>
#include <vector>

#include <mnemon/base/error.hpp>

namespace mnemon {
namespace {

// A frame with memory of its own.
struct Slot {
  Image<Byte> picture;
  int index = 0;
  double time_s = 0;

  void take(const Frame& frame) {
    const ImageView<const Byte>& rgb = frame.rgb;
    if (!std::as_const(picture).view().has_shape_of(rgb))
      picture = Image<Byte>(rgb.rows, rgb.cols, rgb.channels);
    for (int r = 0; r < rgb.rows; ++r) std::memcpy(picture.view().row(r), rgb.row(r), rgb.row_length());
    index = frame.index;
    time_s = frame.time_s;
  }

  [[nodiscard]] Frame frame() const { return {picture.view(), index, time_s}; }
};

// What both kinds of reader share: a thread that reads, and how it ends.
class Reader : public FrameSource {
 public:
  explicit Reader(std::unique_ptr<FrameSource> source)
      : source_(std::move(source)), total_(source_->total()), rate_hz_(source_->rate_hz()) {}
  ~Reader() override = default;

 protected:
  void start() {
    thread_ = std::thread([this] {
      try {
        read();
      } catch (...) {
        error_ = std::current_exception();
      }
      const std::scoped_lock lock(mutex_);
      ended_ = true;
      changed_.notify_all();
    });
  }

  // To be called by the destructor of whoever has `read`.
  void stop() {
    {
      const std::scoped_lock lock(mutex_);
      stopping_ = true;
      changed_.notify_all();
    }
    thread_.join();
  }

  // At the end, the error that ended the reading is thrown, once.
  std::nullopt_t end() {
    if (error_) std::rethrow_exception(std::exchange(error_, nullptr));
    return std::nullopt;
  }

  FrameSource& source() { return *source_; }

  std::mutex mutex_;
  std::condition_variable changed_;
  bool stopping_ = false;
  bool ended_ = false;

 private:
  // Runs on the thread, until the source ends or `stopping_`.
  virtual void read() = 0;
  bool do_skip() final { return next().has_value(); }
  // Asked of the source before the thread has it.
  [[nodiscard]] std::optional<int> do_total() const final { return total_; }
  [[nodiscard]] std::optional<double> do_rate_hz() const final { return rate_hz_; }
  // Is there before the thread hands over the first frame, and stays.
  [[nodiscard]] std::string do_remark() const final { return source_->remark(); }

  std::unique_ptr<FrameSource> source_;
  std::optional<int> total_;
  std::optional<double> rate_hz_;
  std::exception_ptr error_;
  std::thread thread_;
};

class QueuedFrames final : public Reader {
 public:
  QueuedFrames(std::unique_ptr<FrameSource> source, ReadAhead ahead)
      : Reader(std::move(source)), step_(ahead.step), slots_(static_cast<std::size_t>(ahead.frames) + 1) {
    start();
  }
  ~QueuedFrames() override { stop(); }

 private:
  void read() override {
    while (const auto frame = source().next()) {
      std::unique_lock lock(mutex_);
      changed_.wait(lock, [this] { return stopping_ || waiting_ + 1 < slots_.size(); });
      if (stopping_) return;
      Slot& slot = slots_[(first_ + waiting_) % slots_.size()];
      lock.unlock();  // the slot is this thread's until it is counted
      slot.take(*frame);
      lock.lock();
      ++waiting_;
      changed_.notify_all();
      lock.unlock();
      for (int i = 1; i < step_; ++i)
        if (!source().skip()) return;
    }
  }

  // The frame given last keeps its slot until the next call, which is why there is one slot more.
  std::optional<Frame> do_next() override {
    std::unique_lock lock(mutex_);
    if (given_) {
      first_ = (first_ + 1) % slots_.size();
      --waiting_;
      given_ = false;
      changed_.notify_all();
    }
    changed_.wait(lock, [this] { return waiting_ > 0 || ended_; });
    if (waiting_ == 0) return end();
    given_ = true;
    return slots_[first_].frame();
  }

  int step_;
  std::vector<Slot> slots_;
  std::size_t first_ = 0;
  std::size_t waiting_ = 0;  // the one given out included
  bool given_ = false;
};

class NewestFrames final : public Reader {
 public:
  NewestFrames(std::unique_ptr<FrameSource> source, const Interrupt& interrupt)
      : Reader(std::move(source)), interrupt_(interrupt) {
    start();
  }
  ~NewestFrames() override { stop(); }

 private:
  void read() override {
    while (const auto frame = source().next()) {
      coming_.take(*frame);
      const std::scoped_lock lock(mutex_);
      if (stopping_) return;
      std::swap(coming_, newest_);
      fresh_ = true;
      changed_.notify_all();
    }
  }

  std::optional<Frame> do_next() override {
    std::unique_lock lock(mutex_);
    // A signal's handler can wake nobody here, so now and then this looks by itself.
    constexpr std::chrono::milliseconds kLook(50);
    while (!changed_.wait_for(lock, kLook, [this] { return fresh_ || ended_; }))
      if (interrupt_.is_raised()) return std::nullopt;
    if (!fresh_) return end();
    std::swap(newest_, given_);
    fresh_ = false;
    return given_.frame();
  }

  const Interrupt& interrupt_;
  Slot coming_;
  Slot newest_;
  Slot given_;
  bool fresh_ = false;
};

class PacedFrames final : public FrameSource {
 public:
  explicit PacedFrames(std::unique_ptr<FrameSource> source) : source_(std::move(source)) {}

 private:
  using Clock = std::chrono::steady_clock;

  std::optional<Frame> do_next() override {
    const auto frame = source_->next();
    if (!frame) return frame;
    const std::chrono::duration<double> at(frame->time_s);
    if (!start_) start_ = Clock::now() - std::chrono::duration_cast<Clock::duration>(at);
    std::this_thread::sleep_until(*start_ + std::chrono::duration_cast<Clock::duration>(at));
    return frame;
  }

  bool do_skip() override { return source_->skip(); }
  [[nodiscard]] std::optional<int> do_total() const override { return source_->total(); }
  [[nodiscard]] std::optional<double> do_rate_hz() const override { return source_->rate_hz(); }

  std::unique_ptr<FrameSource> source_;
  std::optional<Clock::time_point> start_;
};

}  // namespace

std::unique_ptr<FrameSource> read_ahead(std::unique_ptr<FrameSource> source, ReadAhead ahead) {
  if (ahead.frames < 1 || ahead.step < 1)
    throw CallError("frames can be read ahead from 1 on, by steps from 1 on");
  return std::make_unique<QueuedFrames>(std::move(source), ahead);
}

std::unique_ptr<FrameSource> paced(std::unique_ptr<FrameSource> source) {
  return std::make_unique<PacedFrames>(std::move(source));
}

std::unique_ptr<FrameSource> newest_only(std::unique_ptr<FrameSource> source, const Interrupt& interrupt) {
  return std::make_unique<NewestFrames>(std::move(source), interrupt);
}

}  // namespace mnemon
