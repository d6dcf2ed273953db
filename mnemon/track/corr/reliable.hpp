// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/cell_stages.hpp>
#include <mnemon/track/corr/filter_params.hpp>
#include <mnemon/track/corr/masked_filter.hpp>

namespace mnemon {

/// What `corr-reliable` goes by.
struct CorrReliableParams : HoldRules, RivalRules {
  CorrReliableParams() {
    confidence_half = 0.38;
    confidence_steepness = 3.7;
    present_from = 0.45;
    learn_from = 0.6;
    refind_from = 0.6;
  }
  std::string pace = "usual";
  double padding = 3;
  double reach_px = 12;
  int window_cells = 32;
  double goal_sigma = 0.085;
  double regulariser = 0.01;
  int iterations = 1;
  double learning_rate = 0.03;
  int learn_wait = 1;
  double channel_rate = 0.005;
  double colour_rate = 0.04;
  double colour_weight = 0.5;
  double scale_rate = 0.03;
  int pose_wait = 2;
  double turn_deg = 40;
  double refind_likeness = 0.3;

  static void describe(auto& schema) {
    using P = CorrReliableParams;
    describe_pace<P>(schema, {{"window_cells", 20}, {"iterations", 0}},
                     {{"iterations", 4}, {"pose_wait", 1}});
    describe_filter<P>(schema);
    describe_learn_wait<P>(schema);
    schema.field("regulariser", &P::regulariser, {1e-6, 10.0}, "mean power",
                 "Added at every frequency; raising it trusts weak frequencies less.");
    schema.field("iterations", &P::iterations, {0, 20}, "",
                 "Alternations between the regression and the mask, after the first of each; raising it "
                 "keeps to the mask better, and is slower.");
    schema.field(
        "channel_rate", &P::channel_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in what each channel counts for; at 0 it stays as in the seed frame.");
    schema.at_step().field(
        "colour_rate", &P::colour_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in the colours that the mask goes by; raising it follows "
        "changing light.");
    schema.field("colour_weight", &P::colour_weight, {0.0, 5.0}, "",
                 "What colour counts beside the filter; raising it stands turning and bending, and jumps to "
                 "like colours.");
    describe_scale<P>(schema);
    schema.field("turn_deg", &P::turn_deg, {0.0, 60.0}, "degrees",
                 "Largest turn looked for between two frames; raising it is less exact. None at 0, or at "
                 "scale_rate 0.");
    HoldRules::describe(schema);
    describe_likeness<P>(schema);
    RivalRules::describe(schema);
  }
};

/// Correlation filter constrained to the target's own support, each channel weighted by how well it tells where the
/// target is, with filters over sizes and turns. Stages: `patch`, `channels`, `likelihood`, `mask`, `filter`,
/// `response`. Source: Lukežič, Vojíř, Čehovin Zajc, Matas and Kristan, IJCV 2018; ours adds the turns, a
/// confidence, a search after a loss, and rivals that it is told from then.
class CorrReliable final : public Tracker {
 public:
  /// Seeding comes next.
  explicit CorrReliable(const CorrReliableParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const CorrReliableParams& params) noexcept {
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
    return std::make_unique<CorrReliable>(*this);
  }

  [[nodiscard]] FollowRules rules() const noexcept;

  CorrReliableParams params_;
  FilterAndFollower<CellFeatures, MaskedFilter> filter_;
  CellStages stages_;
};

}  // namespace mnemon
