// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/image/bit_mask.hpp>
#include <mnemon/image/frame.hpp>
#include <mnemon/track/blob/blob_evidence.hpp>
#include <mnemon/track/blob/preparation.hpp>
#include <mnemon/vision/box_sums.hpp>

namespace mnemon {

/// Evidence by motion: how much the pixels of a frame stand out after a chain of steps. Allocates nothing once started.
class MotionEvidence {
 public:
  /// \throws CallError  as Preparation::start.
  void start(const Frame& frame, const Box& box, const PreparationRules& rules);

  /// Takes a frame on which nothing is the target yet, to learn the background from.
  void watch(const Frame& frame, const PreparationRules& rules);

  /// Goes on by other numbers; the chain stays.
  void retune(const PreparationRules& rules) { preparation_.retune(rules); }

  /// Takes the next frame, which lasts until the one after it.
  void take(const Frame& frame);
  /// What a window weighs, in cells of `block` x `block` pixels; holds until the next call.
  BlobEvidence look(const Box& window, int block);
  /// Says where the target is, px, so that the background learns nothing there.
  void learn(const BitMask& target, const Box& box);
  /// The place of the picture that stands out most.
  std::optional<Point> search(const Box& box, bool first);

  /// What frames go through.
  [[nodiscard]] const Preparation& preparation() const noexcept { return preparation_; }

 private:
  Preparation preparation_;
  Image<float> weights_;
  Image<float> coarse_;
  BoxSums sums_;
  Box target_;  // where it was last
  bool has_watched_ = false;
  bool is_seed_ = true;  // whether the frame that is taken next went through the chain at the start
};

}  // namespace mnemon
