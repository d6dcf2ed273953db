// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/shift/shift_follower.hpp>

namespace mnemon {

/// Defaults of its own for what all of the family share.
struct ShiftFixedParams : ShiftRules {
  ShiftFixedParams() {
    confidence_half = 0.63;
    confidence_steepness = 5;
    present_from = 0.1;
    learn_from = 0.3;
    refind_from = 0.35;
  }
};

/// Mean shift on a back-projection of the target's colours, each weighted by how much rarer it is around the target.
/// The box keeps the size and turn it was seeded with. Seeds: box, turned box, polygon, mask. Stages:
/// `back-projection`, `path`. Source: Comaniciu, Ramesh and Meer, TPAMI 2003; Bradski 1998; ours chooses its space of
/// colours by the target, and adds a confidence and a search after a loss.
class ShiftFixed final : public Tracker {
 public:
  /// Seeding comes next.
  explicit ShiftFixed(const ShiftFixedParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const ShiftFixedParams& params) {
    params_ = params;
    follower_.retune(params_);
  }

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override { return follower_.follow(frame); }
  std::vector<Stage> do_stages() override { return follower_.stages(); }
  [[nodiscard]] std::vector<Candidate> do_candidates() const override { return follower_.candidates(); }
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override { return follower_.choices(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<ShiftFixed>(*this);
  }

  ShiftFixedParams params_;
  ShiftFollower follower_;
};

}  // namespace mnemon
