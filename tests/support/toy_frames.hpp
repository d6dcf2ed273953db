// SPDX-License-Identifier: MIT
#pragma once
#include <atomic>
#include <cmath>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/media/frame_source.hpp>

namespace mnemon::test {

/// A picture of smooth colours that differs from frame to frame.
inline Image<Byte> toy_picture(int rows, int cols, int frame) {
  Image<Byte> picture(rows, cols, 3);
  for (int r = 0; r < rows; ++r)
    for (int c = 0; c < cols; ++c) {
      picture(r, c, 0) = static_cast<Byte>(std::lround(127 + 100 * std::sin(0.11 * c + 0.4 * frame)));
      picture(r, c, 1) = static_cast<Byte>(std::lround(127 + 100 * std::sin(0.13 * r)));
      picture(r, c, 2) = static_cast<Byte>(std::lround(127 + 100 * std::cos(0.07 * (r + c) - 0.3 * frame)));
    }
  return picture;
}

/// So many of these at 50 a second; then the end, or an error.
class ToyFrames final : public FrameSource {
 public:
  explicit ToyFrames(int count, bool breaks = false) : count_(count), breaks_(breaks) {}
  /// How many frames have been asked for. May be asked while another thread reads.
  [[nodiscard]] int asked() const { return at_; }

 private:
  std::optional<Frame> do_next() override {
    const int at = at_;
    if (at == count_ && breaks_) throw DataError({"toy"}, "frame " + std::to_string(at) + " is broken");
    if (at == count_) return std::nullopt;
    picture_ = toy_picture(24, 32, at);
    const Frame frame{std::as_const(picture_).view(), at, at / 50.0};
    ++at_;
    return frame;
  }
  bool do_skip() override { return at_ < count_ && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return count_; }

  int count_;
  bool breaks_;
  std::atomic<int> at_ = 0;
  Image<Byte> picture_;
};

}  // namespace mnemon::test
