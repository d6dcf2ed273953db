// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/shift/shift_follower.hpp>

namespace mnemon {

struct ShiftFixedParams {
  double window = 2.6;
  double reach_px = 24;
  int max_shifts = 20;
  double min_shift_px = 0.1;
  double target_rate = 0.02;
  double around_rate = 0.05;
  std::string space = kPartsByTarget;
  double confidence_half = 0.63;
  double confidence_steepness = 5;
  double present_from = 0.1;
  double learn_from = 0.3;
  double refind_from = 0.35;

  static void describe(auto& schema) { describe_shift<ShiftFixedParams>(schema); }
};

/// Mean shift on a back-projection of the target's colours, each weighted by how much rarer it is around the target.
/// The box keeps the size and turn it was seeded with. Seeds: box, turned box, polygon, mask. Stages:
/// `back-projection`, `path`. Source: Comaniciu, Ramesh and Meer, TPAMI 2003; Bradski 1998; ours chooses its space of
/// colours by the target, and adds a confidence and a search after a loss.
class ShiftFixed final : public Tracker {
 public:
  explicit ShiftFixed(const ShiftFixedParams& params) : params_(params) {}

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override { return follower_.follow(frame); }
  std::vector<Stage> do_stages() override { return follower_.stages(); }
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override { return follower_.choices(); }

  ShiftFixedParams params_;
  ShiftFollower follower_;
};

}  // namespace mnemon
