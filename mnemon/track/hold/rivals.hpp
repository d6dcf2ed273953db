// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

namespace mnemon {

/// How good the best was of what has been seen beside the target, which cannot be the target: what takes its place
/// later has to be better. Qualities are shares of what is usual on the target. One that is no longer seen is
/// forgotten over several hundred frames.
class Rivals {
 public:
  /// Forgets all of them.
  void start() noexcept { *this = {}; }

  /// To be called once a frame on which the target is not lost.
  void count_frame() noexcept { frames_ = frames_ % kBetweenLooks + 1; }

  /// Whether this frame is one to look beside the target.
  [[nodiscard]] bool is_due() const noexcept { return frames_ == kBetweenLooks; }

  /// Takes in the quality of what was seen beside the target.
  void take(double quality) noexcept { best_ = std::max(kKept * best_, quality); }

  /// The quality that the target has to have where a rival could be: that of the best rival, and a share of the way
  /// from there to the target's own. 0 where none was seen.
  [[nodiscard]] double needed(double share) const noexcept {
    return best_ > 0 ? best_ + share * std::max(0.0, 1 - best_) : 0;
  }

 private:
  static constexpr int kBetweenLooks = 6;  // frames
  static constexpr double kKept = 0.99;    // of the best, from one look to the next

  int frames_ = 0;
  double best_ = 0;
};

}  // namespace mnemon
