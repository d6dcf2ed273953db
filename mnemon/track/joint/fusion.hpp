// SPDX-License-Identifier: MIT
#pragma once
#include <string>
#include <vector>

#include <mnemon/track/corr/reliable.hpp>
#include <mnemon/track/joint/evidence.hpp>
#include <mnemon/track/mask/memory.hpp>

namespace mnemon {

/// What `fusion` goes by.
struct FusionParams : RivalRules {
  std::string pace = "usual";
  std::string ways = "filter mask";
  int window_cells = 32;
  int iterations = 1;
  int pose_wait = 4;
  int learn_wait = 2;
  int cells = 32;
  int all_looks = 10;
  int mask_rests = 1;
  double rest_from = 0.9;
  double rest_below = 0.8;
  double agree_from = 0.5;
  double mask_share = 0.6;
  double present_from = 0.1;
  bool refit = true;

  static void describe(auto& schema) {
    using P = FusionParams;
    describe_pace<P>(schema, {{"window_cells", 20}, {"iterations", 0}, {"cells", 28}, {"all_looks", 20}},
                     {{"iterations", 4}, {"pose_wait", 1}, {"learn_wait", 1}, {"mask_rests", 0}});
    schema.list("ways", &P::ways, {"filter", "mask"}, "The ways of following that take part.");
    schema.field(
        "window_cells", &P::window_cells, {16, 64}, "cells",
        "Of the filter: cells of 4 samples along its window's side; raising it is finer and slower.");
    schema.field("iterations", &P::iterations, {0, 20}, "",
                 "Of the filter: alternations between the regression and its mask; raising it is slower.");
    schema.at_step().field(
        "pose_wait", &P::pose_wait, {1, 30}, "frames",
        "Of the filter: most frames from one measure of a size or turn that rests to the next.");
    schema.at_step().field(
        "learn_wait", &P::learn_wait, {1, 30}, "frames",
        "Of the filter: from one frame that it learns to the next; raising it is quicker.");
    schema.at_step().field(
        "cells", &P::cells, {16, 80}, "cells",
        "Of the mask: along a target's longer side, at the least; raising it is finer and slower.");
    schema.at_step().field("all_looks", &P::all_looks, {1, 100}, "frames",
                           "Of the mask: where one look explains a frame, from one frame with all looks to "
                           "the next; those without a look do not count.");
    schema.at_step().field("mask_rests", &P::mask_rests, {0, 30}, "frames",
                           "Of the mask: most frames in a row without a look, on which its box goes with the "
                           "filter's; raising it is quicker, and follows look-alikes.");
    schema.at_step().field("rest_from", &P::rest_from, {0.0, 1.0}, "overlap",
                           "Of the mask: overlap of its last look with where the filter's motion alone would "
                           "have taken its box, from which it may rest; raising it rests less.");
    schema.at_step().field("rest_below", &P::rest_below, {0.0, 2.0}, "of what is usual",
                           "Of the mask: it rests only where the things beside the target leave a claim to "
                           "need less likeness than this; raising it rests among look-alikes, too.");
    schema.at_step().field(
        "agree_from", &P::agree_from, {0.05, 1.0}, "overlap",
        "Of the two boxes, from which they mean the same thing; raising it chooses between them more "
        "often.");
    schema.at_step().field("mask_share", &P::mask_share, {0.0, 1.0}, "",
                           "Of the mask's box in the answer, where both mean the same thing; 0: the filter's "
                           "box, 1: the mask's.");
    schema.at_step().field(
        "present_from", &P::present_from, {0.0, 1.0}, "",
        "How likely the answer has to be on the target, or else the target is told to be absent.");
    schema.field(
        "refit", &P::refit,
        "Whether the box is drawn anew around the target where the marked one is a little off, instead "
        "of keeping its relation to the target.");
    RivalRules::describe(schema);
  }
};

/// A filter and a mask side by side, joined where they agree; else the likelier one answers. They know different things:
/// masks fail where colours say nothing, filters where the target bends, turns out of the plane or leaps. How likely each
/// is on the target is told by logistic regression over how sure it is itself, how far its box stands out in the mask's
/// colours, whether the other one agrees, and what became of it since both agreed last. Where both mean the same thing,
/// the box lies between theirs, as their errors have little to do with each other. There the mask may rest for a frame, and
/// goes with the filter. Stages: those of `corr-reliable` and
/// of `mask-memory`, as `filter-patch`, `mask-patch` and so on. Ours.
class Fusion final : public Tracker {
 public:
  /// Seeding comes next.
  explicit Fusion(const FusionParams& params);

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const FusionParams& params);

  /// One of the two ways of following.
  struct Way {
    Estimate answer;    ///< To the last frame.
    Evidence evidence;  ///< For that.
    SinceAgreed since;  ///< What became of it since both agreed.
    double belief = 1;  ///< How likely its box overlaps the target's by more than half.
  };
  /// The filter, at the last step; only where both take part.
  [[nodiscard]] const Way& filter_way() const noexcept { return by_filter_; }
  /// The mask, at the last step; only where both take part.
  [[nodiscard]] const Way& mask_way() const noexcept { return by_mask_; }

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  std::vector<Stage> do_stages() override;
  [[nodiscard]] std::vector<Candidate> do_candidates() const override;
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override {
    return has_filter_ ? filter_.choices() : std::vector<SeedChoice>();
  }
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override {
    return has_mask_ && mask_answers_ && is_present_ ? mask_.mask() : none_.view();
  }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override { return std::make_unique<Fusion>(*this); }

  [[nodiscard]] Estimate follow_mask(const Frame& frame, const Box& was, const Box& now);
  void judge(const Frame& frame, Way& way, bool agree, const EvidenceWeights& weights) const noexcept;

  FusionParams params_;
  bool has_filter_;
  bool has_mask_;
  CorrReliable filter_;
  MaskMemory mask_;
  Way by_filter_;
  Way by_mask_;
  bool mask_answers_ = false;
  bool agreed_ = true;     // both, in the last frame
  bool rode_well_ = true;  // whether the mask's last look saw what going with the filter would have told
  int rested_ = 0;         // frames since that look
  bool is_present_ = true;
  Image<Byte> none_;  // the mask of an answer that has none
  std::vector<std::string> stage_names_;
};

}  // namespace mnemon
