// SPDX-License-Identifier: MIT
#pragma once
#include <mnemon/track/corr/cell_stages.hpp>
#include <mnemon/track/corr/filter_params.hpp>
#include <mnemon/track/corr/kernel_filter.hpp>

namespace mnemon {

/// What `corr-kernel` goes by.
struct CorrKernelParams : HoldRules, RivalRules {
  CorrKernelParams() {
    confidence_half = 0.44;
    confidence_steepness = 2.4;
    present_from = 0.35;
    learn_from = 0.44;
    refind_from = 0.48;
  }
  std::string pace = "usual";
  double padding = 2.5;
  double reach_px = 12;
  int window_cells = 32;
  double focus = 1;
  double goal_sigma = 0.1;
  std::string kernel = "gaussian";
  double kernel_sigma = 4;
  double regulariser = 1e-4;
  double learning_rate = 0.02;
  int learn_wait = 1;
  double refind_likeness = 0.3;

  static void describe(auto& schema) {
    using P = CorrKernelParams;
    describe_pace<P>(schema, {{"window_cells", 20}}, {});
    describe_filter<P>(schema);
    describe_learn_wait<P>(schema);
    describe_focus<P>(schema);
    schema.field("kernel", &P::kernel, {"gaussian", "linear"},
                 "How the likeness of two windows is measured.");
    schema.field("kernel_sigma", &P::kernel_sigma, {0.1, 20.0}, "norms of a window",
                 "Width of the Gaussian kernel; raising it makes it more like the linear one.");
    schema.field("regulariser", &P::regulariser, {1e-6, 1.0}, "",
                 "Added at every frequency; raising it trusts weak frequencies less.");
    HoldRules::describe(schema);
    describe_likeness<P>(schema);
    RivalRules::describe(schema);
  }
};

/// Kernelised correlation filter over gradient histograms, grey and soft colours. The box keeps the size it was
/// seeded with. Stages: `patch`, `channels`, `filter`, `response`. Source: Henriques, Caseiro, Martins and Batista,
/// TPAMI 2015; ours adds colour, a window that grows less than the target does, a confidence, a search after a loss,
/// and rivals that it is told from then.
class CorrKernel final : public Tracker {
 public:
  /// Seeding comes next.
  explicit CorrKernel(const CorrKernelParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const CorrKernelParams& params) noexcept {
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
    return std::make_unique<CorrKernel>(*this);
  }

  CorrKernelParams params_;
  FilterAndFollower<CellFeatures, KernelFilter> filter_;
  CellStages stages_;
};

}  // namespace mnemon
