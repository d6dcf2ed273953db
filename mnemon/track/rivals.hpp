// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>

namespace mnemon {

/// How good the best was of what has been seen beside the target, which cannot be the target: what takes its place later
/// has to be better. Qualities are shares of what is usual on the target. One that is no longer seen is forgotten over
/// several hundred frames.
class Rivals {
 public:
  void start() noexcept { *this = {}; }

  /// Whether this frame is one to look beside the target; asked once a frame.
  [[nodiscard]] bool is_due() noexcept {
    if (++frames_ < kBetweenLooks) return false;
    frames_ = 0;
    return true;
  }

  /// Takes in the quality of what was seen beside the target.
  void take(double quality) noexcept { best_ = std::max(kKept * best_, quality); }

  /// The quality that the target has to have where a rival could be: that of the best rival, and a share of the way from there
  /// to the target's own. 0 where none was seen.
  [[nodiscard]] double needed(double share) const noexcept {
    return best_ > 0 ? best_ + share * std::max(0.0, 1 - best_) : 0;
  }

 private:
  static constexpr int kBetweenLooks = 6;  // frames
  static constexpr double kKept = 0.99;    // of the best, from one look to the next

  int frames_ = 0;
  double best_ = 0;
};

/// Describes the members `rivals` and `tell_apart` of a tracker's parameters.
template <class P>
void describe_rivals(auto& schema) {
  schema.field(
      "rivals", &P::rivals,
      "Whether things like the target are looked for beside it, to tell it from them once it is lost.");
  schema.field("tell_apart", &P::tell_apart, {0.0, 1.0}, "",
               "How far beyond the best of them, towards what is usual, it has to be; raising it avoids "
               "look-alikes, and takes longer.");
}

}  // namespace mnemon
