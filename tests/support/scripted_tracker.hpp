// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <vector>

#include <mnemon/media/frame_source.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon::test {

/// Answers with the box that a script has for the frame, or else its seed box; remembers what it was asked.
class ScriptedTracker final : public Tracker {
 public:
  explicit ScriptedTracker(std::map<int, Box> script = {}) : script_(std::move(script)) {}

  std::vector<int> seeded;    ///< Frames, in order.
  std::vector<int> followed;  ///< The same.

 private:
  Estimate do_seed(const Frame& frame, const Region& /*region*/, const Box& box) override {
    seeded.push_back(frame.index);
    box_ = box;
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& frame) override {
    followed.push_back(frame.index);
    const auto at = script_.find(frame.index);
    return {{at == script_.end() ? box_ : at->second, 0}, 0.5, true};
  }

  std::map<int, Box> script_;
  Box box_;
};

/// So many black frames of 64 x 48 at 10 a second.
class BlackFrames final : public FrameSource {
 public:
  explicit BlackFrames(int count) : count_(count), picture_(48, 64, 3) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == count_) return std::nullopt;
    const int index = at_++;
    return Frame{std::as_const(picture_).view(), index, index / 10.0};
  }
  bool do_skip() override { return at_ < count_ && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return count_; }

  int count_;
  int at_ = 0;
  Image<Byte> picture_;
};

}  // namespace mnemon::test
