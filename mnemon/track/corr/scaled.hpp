// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/cell_stages.hpp>
#include <mnemon/track/corr/filter_params.hpp>
#include <mnemon/track/corr/ridge_filter.hpp>

namespace mnemon {

/// What `corr-scaled` goes by.
struct CorrScaledParams : HoldRules, RivalRules {
  CorrScaledParams() {
    confidence_half = 0.4;
    confidence_steepness = 3.2;
    present_from = 0.38;
    learn_from = 0.5;
    refind_from = 0.55;
  }
  std::string pace = "usual";
  double padding = 2.5;
  double reach_px = 12;
  int window_cells = 32;
  double focus = 1;
  double goal_sigma = 0.1;
  double regulariser = 0.01;
  double learning_rate = 0.025;
  int learn_wait = 1;
  double scale_rate = 0.025;
  int pose_wait = 4;
  double refind_likeness = 0.3;

  static void describe(auto& schema) {
    using P = CorrScaledParams;
    describe_pace<P>(schema, {{"window_cells", 20}}, {{"pose_wait", 1}});
    describe_filter<P>(schema);
    describe_learn_wait<P>(schema);
    describe_focus<P>(schema);
    schema.field("regulariser", &P::regulariser, {1e-6, 10.0}, "mean power",
                 "Added at every frequency; raising it trusts weak frequencies less.");
    describe_scale<P>(schema);
    HoldRules::describe(schema);
    describe_likeness<P>(schema);
    RivalRules::describe(schema);
  }
};

/// Linear correlation filter of many channels (gradient histograms, grey, soft colours) that moves the box, and a
/// filter over sizes that grows and shrinks it. Stages: `patch`, `channels`, `filter`, `response`. Source:
/// Danelljan, Häger, Khan and Felsberg, TPAMI 2017; ours adds colour, a window that grows less than the target does,
/// a confidence, a search after a loss, and rivals that it is told from then.
class CorrScaled final : public Tracker {
 public:
  /// Seeding comes next.
  explicit CorrScaled(const CorrScaledParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const CorrScaledParams& params) noexcept {
    params_ = params;
    filter_.follower().retune(rules_of(params_));
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
    return std::make_unique<CorrScaled>(*this);
  }

  CorrScaledParams params_;
  FilterAndFollower<CellFeatures, RidgeFilter> filter_;
  CellStages stages_;
};

}  // namespace mnemon
