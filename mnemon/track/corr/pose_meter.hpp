// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <utility>

#include <mnemon/track/corr/pose_rest.hpp>
#include <mnemon/track/corr/pose_search.hpp>

namespace mnemon {

/// Measures how a followed target's size and turn change, on the frames on which that is worth it; where sizes are
/// kept, it measures nothing. Allocates nothing once made.
class PoseMeter {
 public:
  /// Sizes are kept.
  PoseMeter() = default;
  /// \param search   That measures.
  /// \param longest  Most frames from one measure to the next of what rests.
  PoseMeter(PoseSearch search, int longest) : search_(std::move(search)), rest_(longest) {}

  /// What is to be changed of a pose on the next frame: nothing of what rests on it.
  [[nodiscard]] PoseSearch::Change next(ImageView<const Byte> rgb, const PoseSearch::Pose& pose) noexcept {
    if (!search_) return {};
    const PoseSearch::Asked asked = rest_.next();
    const PoseSearch::Change change = search_->find(rgb, pose, asked);
    rest_.measured(asked, change);
    return change;
  }

  /// The same of all, at a place that is none of the target's own.
  [[nodiscard]] PoseSearch::Change beside(ImageView<const Byte> rgb, const PoseSearch::Pose& pose) noexcept {
    return search_ ? search_->find(rgb, pose, {}) : PoseSearch::Change{};
  }

  /// Takes in how the target looks at its pose, at a rate from 0 to 1.
  void learn(ImageView<const Byte> rgb, const PoseSearch::Pose& pose, double rate) noexcept {
    if (search_) search_->learn(rgb, pose, rate);
  }

  /// Measures all on the next frame, as after a loss.
  void wake() noexcept { rest_.wake(); }

  /// Goes on with another most.
  void retune(int longest) noexcept { rest_.retune(longest); }

 private:
  std::optional<PoseSearch> search_;
  PoseRest rest_;
};

}  // namespace mnemon
