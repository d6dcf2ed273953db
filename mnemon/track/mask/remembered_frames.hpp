// SPDX-License-Identifier: MIT
#pragma once
#include <algorithm>
#include <array>
#include <bit>

#include <mnemon/track/mask/appearance.hpp>
#include <mnemon/track/mask/target_pose.hpp>

namespace mnemon {

/// What a target looked like on some frames, and how it was turned and how large: on the seed's, which is never forgotten,
/// and on up to six more. Allocates nothing after `start`.
class RememberedFrames {
 public:
  static constexpr int kMost = 7;  ///< The seed's among them.

  /// What is kept of a frame.
  struct One {
    Appearance appearance;  ///< Of that frame alone.
    TargetPose pose;        ///< Of the target on it.
  };

  /// Remembers the seed's frame alone, of a target of w x h px.
  void start(double w, double h, const Appearance& appearance, const TargetPose& pose) {
    for (One& one : frames_) one.appearance = Appearance(w, h);
    frames_[0].appearance.copy_from(appearance);
    frames_[0].pose = pose;
    size_ = 1;
    added_ = 0;
  }

  /// Where one more frame is to be put. Once all places are taken, every second frame goes to the first after the seed's,
  /// every fourth to the next, and so on, the last two taking turns: most are of late, and one is 16 to 32 frames old.
  One& add() noexcept {
    ++added_;
    size_ = std::max(size_, std::min(kMost, added_ + 1));
    return frames_[place_of(added_)];
  }

  /// How many there are; the first is the seed's.
  [[nodiscard]] int size() const noexcept { return size_; }
  /// The seed's is the first.
  [[nodiscard]] const One& operator[](int i) const noexcept { return frames_[i]; }

 private:
  [[nodiscard]] static int place_of(int nth) noexcept {
    return nth < kMost ? nth : 1 + std::min(std::countr_zero(static_cast<unsigned>(nth)), kMost - 2);
  }

  std::array<One, kMost> frames_;
  int size_ = 0;
  int added_ = 0;
};

}  // namespace mnemon
