// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/shift/shift_follower.hpp>

namespace mnemon {

/// What `shift-adaptive` goes by.
struct ShiftAdaptiveParams : ShiftRules {
  ShiftAdaptiveParams() {
    confidence_half = 0.5;
    confidence_steepness = 3.2;
    present_from = 0.2;
    learn_from = 0.25;
    refind_from = 0.4;
  }
  double most_growth = 1.05;
  double turn_rate = 0.5;
  bool turns = true;

  static void describe(auto& schema) {
    using P = ShiftAdaptiveParams;
    ShiftRules::describe(schema);
    schema.at_step().field(
        "most_growth", &P::most_growth, {1.0, 2.0}, "",
        "Most that a side grows in one frame; raising it follows faster changes of size and swells "
        "sooner.");
    schema.at_step().field(
        "turn_rate", &P::turn_rate, {0.01, 1.0}, "",
        "How much of a measured turn is taken in a frame; raising it follows faster and less steadily.");
    schema.at_step().field("turns", &P::turns, "Whether the turn of the target is followed.");
  }
};

/// Mean shift on a back-projection, then turn and size of its weights, then mean shift again. Returns the turned box.
/// Seeds: box, turned box, polygon, mask. Stages: `back-projection`, `path`. Source: Bradski 1998; Zivkovic and Kröse
/// 2004; ours measures shapes against that of the seed, above the level of the surroundings.
class ShiftAdaptive final : public Tracker {
 public:
  /// Seeding comes next.
  explicit ShiftAdaptive(const ShiftAdaptiveParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const ShiftAdaptiveParams& params) {
    params_ = params;
    follower_.retune(params_, limits());
  }

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override { return follower_.follow(frame); }
  std::vector<Stage> do_stages() override { return follower_.stages(); }
  [[nodiscard]] std::vector<Candidate> do_candidates() const override { return follower_.candidates(); }
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override { return follower_.choices(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<ShiftAdaptive>(*this);
  }

  [[nodiscard]] ShapeFit::Limits limits() const noexcept {
    return {params_.most_growth, params_.turn_rate, params_.turns};
  }

  ShiftAdaptiveParams params_;
  ShiftFollower follower_;
};

}  // namespace mnemon
