// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/mask/mask_params.hpp>

namespace mnemon {

struct MaskCutParams {
  double reach = 0.5;
  double reach_px = 12;
  double colour_weight = 0.6;
  double shape_weight = 1;
  double smoothness = 1.5;
  double look_rate = 0.15;
  double shape_rate = 0.1;
  double shape_anchor = 0.2;
  double look_anchor = 0.5;
  double colour_rate = 0.05;
  double confidence_half = 0.5;
  double confidence_steepness = 8;
  double present_from = 0.4;
  double learn_from = 0.85;
  double refind_from = 0.85;

  bool turned_box = false;

  static void describe(auto& schema) { describe_mask<MaskCutParams>(schema); }
};

/// Moves the target's last mask along to where it looks alike, and cuts it out of its surroundings there by colour,
/// expected shape and borders. Its box is as large against the mask as the seeded one was. Seeds: box, turned box,
/// polygon, mask. Stages: `patch`, `likelihood`, `shape`, `mask`, `match`. Source: Boykov and Kolmogorov, TPAMI 2004;
/// Rother, Kolmogorov and Blake 2004; ours learns a shape, and adds a confidence and a search after a loss.
class MaskCut final : public Tracker {
 public:
  explicit MaskCut(const MaskCutParams& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  std::vector<Stage> do_stages() override { return target_.stages(); }

  [[nodiscard]] Pose forecast() const noexcept;
  [[nodiscard]] Estimate estimate(double confidence, bool present) noexcept;

  MaskCutParams params_;
  MaskTarget target_;
  MaskSighting last_;
  Point velocity_;
  int frames_lost_ = 0;
  FrameSize size_;
};

}  // namespace mnemon
