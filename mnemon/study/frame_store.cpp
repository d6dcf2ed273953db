// SPDX-License-Identifier: MIT
#include <mnemon/study/frame_store.hpp>

#include <algorithm>
#include <fstream>
#include <limits>
#include <string>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/workers.hpp>

namespace mnemon {
namespace {

constexpr std::size_t kUnknownMemory = std::size_t{1} << 31;

// Of the whole machine, bytes.
std::size_t free_memory() {
  std::ifstream info("/proc/meminfo");
  for (std::string word; info >> word;) {
    std::size_t kilobytes = 0;
    if (word == "MemAvailable:" && info >> kilobytes) return kilobytes * 1024;
  }
  return kUnknownMemory;
}

// Of what a container may take, bytes; more than any machine has where there is no limit.
std::size_t free_memory_of_group() {
  std::size_t most = 0;
  std::size_t taken = 0;
  std::ifstream limit("/sys/fs/cgroup/memory.max");  // holds the word `max` where there is none
  std::ifstream now("/sys/fs/cgroup/memory.current");
  if (!(limit >> most) || !(now >> taken)) return std::numeric_limits<std::size_t>::max();
  return most - std::min(most, taken);
}

class KeptFrames final : public FrameSource {
 public:
  KeptFrames(const std::vector<Image<Byte>>& frames, double rate_hz) : frames_(frames), rate_hz_(rate_hz) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == frames_.size()) return std::nullopt;
    const int index = static_cast<int>(at_);
    return Frame{frames_[at_++].view(), index, index / rate_hz_};
  }
  bool do_skip() override { return at_ < frames_.size() && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return static_cast<int>(frames_.size()); }
  [[nodiscard]] std::optional<double> do_rate_hz() const override { return rate_hz_; }

  const std::vector<Image<Byte>>& frames_;
  double rate_hz_;
  std::size_t at_ = 0;
};

void check_size(const Image<Byte>& frame, const FrameOrigin& origin, int index) {
  if (frame.cols() != origin.size.width || frame.rows() != origin.size.height)
    throw Error(
        fmt::format("frame {} is {} x {} pixels, but the first is {} x {}; all frames of a sequence must "
                    "have one size",
                    index, frame.cols(), frame.rows(), origin.size.width, origin.size.height));
}

}  // namespace

FrameStore::FrameStore(const FrameOrigin& origin, std::size_t most_bytes, int jobs) : origin_(origin) {
  const std::size_t bytes = static_cast<std::size_t>(origin.size.width) *
                            static_cast<std::size_t>(origin.size.height) * 3 *
                            static_cast<std::size_t>(origin.count);
  if (bytes > most_bytes) return;
  std::vector<Image<Byte>> frames(static_cast<std::size_t>(origin.count));
  if (origin.make) {
    for_each_index(origin.count, jobs, [&](int i) {
      frames[i] = origin.make(i);
      check_size(frames[i], origin, i);
    });
  } else {
    const auto source = origin.open();
    for (int i = 0; i < origin.count; ++i) {
      const auto frame = source->next();
      if (!frame) throw Error(fmt::format("there are {} frames instead of {}", i, origin.count));
      frames[i] = copy_of(frame->rgb);
    }
  }
  frames_ = std::move(frames);
}

std::unique_ptr<FrameSource> FrameStore::open() const {
  if (is_kept()) return std::make_unique<KeptFrames>(frames_, origin_.rate_hz);
  return origin_.open();
}

std::size_t memory_for_frames() { return std::min(free_memory(), free_memory_of_group()) / 2; }

}  // namespace mnemon
