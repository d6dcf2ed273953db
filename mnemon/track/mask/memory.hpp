// SPDX-License-Identifier: MIT
#pragma once
#include <span>
#include <string>

#include <mnemon/geometry/box_change.hpp>
#include <mnemon/track/hold/usual.hpp>
#include <mnemon/track/mask/box_motion.hpp>
#include <mnemon/track/mask/mask_target.hpp>
#include <mnemon/track/mask/remembered_frames.hpp>

namespace mnemon {

/// What `mask-memory` goes by.
struct MaskMemoryParams : MaskRules, RivalRules {
  std::string memory = "several";
  bool motion = true;
  double motion_weight = 0.25;
  double remember_likeness = 0.8;
  double remember_overlap = 0.6;
  int all_looks = 5;

  static void describe(auto& schema) {
    using P = MaskMemoryParams;
    describe_pace<P>(schema, {{"cells", 28}, {"all_looks", 20}}, {});
    MaskRules::describe(schema);
    schema.field(
        "memory", &P::memory, {"several", "seed", "latest"},
        "What is remembered beside the latest appearance: up to 7 frames, the seed's alone, or nothing, "
        "so that nothing pulls back to the seed either.");
    schema.at_step().field("motion", &P::motion, "Whether the forecast of the target's motion counts.");
    schema.at_step().field(
        "motion_weight", &P::motion_weight, {0.0, 0.9}, "",
        "How much it counts beside likeness; raising it holds on to the path through look-alikes.");
    schema.at_step().field(
        "remember_likeness", &P::remember_likeness, {0.0, 1.5}, "of what is usual",
        "Likeness to the memory that a frame needs to be remembered; raising it keeps occluders out.");
    schema.at_step().field(
        "remember_overlap", &P::remember_overlap, {0.0, 1.0}, "",
        "Overlap with its forecast box that a frame needs to be remembered; raising it keeps jumps out.");
    schema.at_step().field(
        "all_looks", &P::all_looks, {1, 100}, "frames",
        "Where one look explains a frame, from one frame with all looks to the next; raising it is "
        "quicker.");
    RivalRules::describe(schema);
  }
};

/// Weighs several candidate masks a frame: from different forecasts, memories of appearance and colours, and, where the
/// target is lost, places and sizes. Each is judged by its likeness to up to 7 remembered frames and by the overlap of
/// its box with the forecast of a constant-velocity filter on place and size. A frame is only remembered if it is
/// surely the target by likeness, presence and motion, so that an occluder never is; the seed frame always stays. A
/// lost target is also looked for as it was turned and as large as it was on remembered frames, some of them a frame.
/// While the target is seen, what is like it is looked at too: where it was lost, or jumps, only what is more like it
/// than those is taken for it. Seeds and stages as `mask-plain`. Source: Boykov and Kolmogorov, TPAMI 2004, for the
/// cuts; Oh and others, ICCV 2019, for a memory of several frames; Ravi and others, 2024, and Yang and others, 2024,
/// for choosing among candidates by likeness and motion, and for what a frame has to be like to be remembered; ours
/// keeps whole appearances and selects among cuts.
class MaskMemory final : public Tracker {
 public:
  /// Seeding comes next.
  explicit MaskMemory(const MaskMemoryParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const MaskMemoryParams& params) {
    params_ = params;
    target_.retune(params_);
    loop_.retune(params_, params_);
  }

  /// Which colours the target has, and which are around it.
  [[nodiscard]] const ColourModel& colours() const noexcept { return target_.colours(); }

  /// Goes on without a look at the next frame, as another tracker saw the target move and grow. Only where the target was
  /// present in the last frame. Learns nothing, and has no candidates afterwards.
  /// \returns  What was told of the last frame, moved so.
  Estimate ride(const BoxChange& change);

  /// How like the target something has to be which may be another thing, as a share of what is usual: more, the more like
  /// it the best thing was that was seen beside it. 0 where nothing was.
  [[nodiscard]] double needed() const noexcept { return loop_.needed(); }

 private:
  friend class HoldLoop;
  // What a look found, and how much it is worth among several.
  struct Seen : MaskSighting {
    double score = -1;
  };
  static constexpr int kLatest = -1;  // the running appearance, beside the remembered ones
  static constexpr int kRecalls = 2;  // remembered poses that a lost target is looked for in, a frame

  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  std::vector<Stage> do_stages() override { return target_.stages(); }
  [[nodiscard]] std::vector<Candidate> do_candidates() const override { return candidates_of(loop_); }
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override { return target_.mask(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<MaskMemory>(*this);
  }

  [[nodiscard]] TargetPose forecast_pose() const noexcept;
  Seen look_from(const Frame& frame, const TargetPose& from, int by, double reach = 1,
                 std::span<const TargetPose> known = {});
  [[nodiscard]] Seen look(const Frame& frame);
  void search(const Frame& frame, Seen& seen);
  /// Whether a lost target is looked for at the best place of the picture on this frame; on the others it is in all ways
  /// where it should be, so that no step has to do both.
  [[nodiscard]] bool searches_now() const noexcept {
    return loop_.is_lost() && (loop_.forecast().frames_lost() - Forecast::kFramesUntilSearch) % 2 == 0;
  }
  /// Which remembered frame the k-th recall of a frame is of, while the target is lost: each in turn, the seed's first.
  [[nodiscard]] int recalled(int k) const noexcept {
    const int turn = (loop_.forecast().frames_lost() - Forecast::kFramesUntilSearch) / 2;
    return (kRecalls * turn + k) % remembered_.size();
  }
  [[nodiscard]] double likeness_to_memory(const MaskSighting& seen) const noexcept;
  /// Looks at the most promising place beside where the target should be.
  [[nodiscard]] Seen look_beside(const Frame& frame);
  [[nodiscard]] bool explains(const Seen& seen) const noexcept;
  [[nodiscard]] bool accept(const Frame& frame, const Seen& seen) const noexcept;
  void hold(const Frame& frame, const Seen& seen, bool learns);
  void miss(const Frame& frame);
  void remember(const Seen& seen);
  [[nodiscard]] Estimate estimate(const Held& held) noexcept;

  MaskMemoryParams params_;
  HoldLoop loop_;
  MaskTarget target_;
  ColourModel seed_colours_;
  RememberedFrames remembered_;
  int frames_since_remembered_ = 0;
  int frames_ = 0;
  Usual usual_memory_likeness_;
  Usual usual_quality_;
  BoxMotion motion_;
  MaskSighting last_;
  Point ridden_;       // px since the last look
  MaskSighting sure_;  // the last one of it whole that was learnt: occluders change sizes before it is lost
  bool at_hand_ = false;  // whether what was looked at last is the best so far
  FrameSize size_;
};

}  // namespace mnemon
