// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/blob/blob_follower.hpp>
#include <mnemon/track/blob/preparation.hpp>

namespace mnemon {

/// Evidence by motion: how much the pixels of a frame stand out after a chain of steps. Allocates nothing once started.
class MotionEvidence final : public EvidenceSource {
 public:
  /// \throws CallError  as Preparation::start.
  void start(const Frame& frame, const Box& box, const PreparationRules& rules);

  void take(const Frame& frame) override;
  BlobEvidence look(const Box& window, int block) override;
  void learn(const BitMask& target, const Box& box) override;
  [[nodiscard]] bool tells_likeness() const noexcept override { return false; }
  double likeness(const Box& /*box*/) override { return 1; }
  std::optional<Point> search(const Box& box, bool first) override;
  std::optional<Point> search_beside(const Box& /*box*/) override { return {}; }

  [[nodiscard]] const Preparation& preparation() const noexcept { return preparation_; }

 private:
  Preparation preparation_;
  Image<float> weights_;
  Image<float> coarse_;
  BoxSums sums_;
  Box target_;           // where it was last
  bool is_seed_ = true;  // whether the frame that is taken next went through the chain at the start
};

}  // namespace mnemon
