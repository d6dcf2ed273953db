// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/filter_params.hpp>
#include <mnemon/track/corr/grey_patch.hpp>
#include <mnemon/track/corr/linear_filter.hpp>

namespace mnemon {

/// What `corr-plain` goes by.
struct CorrPlainParams : HoldRules {
  CorrPlainParams() {
    confidence_half = 0.5;
    confidence_steepness = 2.1;
    present_from = 0.2;
    learn_from = 0.3;
    refind_from = 0.3;
  }
  std::string pace = "usual";
  double padding = 1.6;
  double reach_px = 6;
  int window_samples = 64;
  double focus = 0;
  double goal_sigma = 1.0;
  double learning_rate = 0.1;
  double regulariser = 0.05;
  int warps = 8;
  double warp_deg = 10;
  double warp_scale = 0.05;
  double refind_likeness = 0.4;
  int random_seed = 1;

  static void describe(auto& schema) {
    using P = CorrPlainParams;
    describe_pace<P>(schema, {{"window_samples", 32}}, {{"window_samples", 128}});
    schema.field("padding", &P::padding, {1.0, 6.0}, "target sizes",
                 "Size of the search window; raising it follows faster motion and learns more background.");
    schema.field(
        "reach_px", &P::reach_px, {0.0, 200.0}, "px",
        "Added to the window whatever the target's size; raising it helps small targets that move fast.");
    schema.field("window_samples", &P::window_samples, {16, 128}, "samples",
                 "Samples along the window's side; raising it is finer and slower.");
    describe_focus<P>(schema);
    schema.field("goal_sigma", &P::goal_sigma, {0.5, 20.0}, "samples",
                 "Width of the peak the filter is taught; raising it forgives more and places less exactly.");
    schema.at_step().field("learning_rate", &P::learning_rate, {0.0, 1.0}, "",
                           "Weight of the newest frame; raising it adapts faster and drifts sooner.");
    schema.field("regulariser", &P::regulariser, {1e-6, 10.0}, "",
                 "Added to the power at every frequency; raising it trusts weak frequencies less.");
    schema.field("warps", &P::warps, {0, 256}, "copies", "Warped copies of the seed patch to learn from.");
    schema.field("warp_deg", &P::warp_deg, {0.0, 90.0}, "degrees", "Most turn of a warped copy, either way.");
    schema.field("warp_scale", &P::warp_scale, {0.0, 0.5}, "", "Most growth or shrinking of a warped copy.");
    HoldRules::describe(schema);
    describe_likeness<P>(schema);
    schema.field("random_seed", &P::random_seed, {0, 65535}, "", "Draws the warped copies.");
  }
};

/// Adaptive single-channel correlation filter: grey values through a logarithm and a cosine taper, a filter
/// learnt first from warped copies of the seed patch and then from every frame that it is sure of. The box
/// keeps the size it was seeded with. Stages: `patch`, `filter`, `response`. Source: Bolme, Beveridge, Draper and
/// Lui, CVPR 2010; ours has a window that grows less than the target does, adds a regulariser, a confidence that says
/// when the target is lost, and a search after a loss.
class CorrPlain final : public Tracker {
 public:
  /// Seeding comes next.
  explicit CorrPlain(const CorrPlainParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const CorrPlainParams& params) noexcept {
    params_ = params;
    filter_.follower().retune(rules());
  }

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  std::vector<Stage> do_stages() override;
  [[nodiscard]] std::vector<Candidate> do_candidates() const override {
    return filter_.follower().candidates();
  }
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override { return filter_.follower().choices(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<CorrPlain>(*this);
  }

  [[nodiscard]] FollowRules rules() const noexcept;
  void learn_warped_copies();

  CorrPlainParams params_;
  FilterAndFollower<GreyPatch, LinearFilter> filter_;
  Image<float> filter_picture_;
};

}  // namespace mnemon
