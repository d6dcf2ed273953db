// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <mnemon/track/mask/mask_target.hpp>

namespace mnemon {

/// What `mask-plain` goes by.
struct MaskPlainParams : MaskRules {
  static void describe(auto& schema) {
    describe_pace<MaskPlainParams>(schema, {{"cells", 28}}, {});
    MaskRules::describe(schema);
  }
};

/// Moves the target's last mask along to where it looks alike, and cuts it out of its surroundings there by colour,
/// expected shape and borders. Its box is as large against the mask as the seeded one was. Seeds: box, turned box,
/// polygon, mask. Stages: `patch`, `likelihood`, `shape`, `mask`, `match`. Source: Boykov and Kolmogorov, TPAMI 2004;
/// Rother, Kolmogorov and Blake 2004; ours learns a shape, tells what is
/// hidden, and adds a confidence and a search after a loss.
class MaskPlain final : public Tracker {
 public:
  /// Seeding comes next.
  explicit MaskPlain(const MaskPlainParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const MaskPlainParams& params) {
    params_ = params;
    target_.retune(params_);
    loop_.retune(params_);
  }

 private:
  friend class HoldLoop;
  using Seen = MaskSighting;

  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override;
  std::vector<Stage> do_stages() override { return target_.stages(); }
  [[nodiscard]] std::vector<Candidate> do_candidates() const override { return candidates_of(loop_); }
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override { return target_.mask(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<MaskPlain>(*this);
  }

  // The last pose, moved as the target should have.
  [[nodiscard]] TargetPose expected() const noexcept;
  [[nodiscard]] MaskSighting look(const Frame& frame) noexcept;
  [[nodiscard]] MaskSighting look_beside(const Frame& /*frame*/) const { return {}; }  // there are no rivals
  // A lost target is looked for in one place a frame, as looks take long: the most promising one of the whole picture, in the
  // size that the target had; on the next frame the same in the size of the mask there, where that differs; and now and then
  // where it was.
  [[nodiscard]] bool looks_elsewhere() const noexcept;
  void search(const Frame& frame, MaskSighting& seen) noexcept;
  [[nodiscard]] bool accept(const Frame& /*frame*/, const MaskSighting& /*seen*/) const noexcept {
    return true;
  }
  void hold(const Frame& frame, const MaskSighting& seen, bool learns) noexcept;
  void miss(const Frame& frame) noexcept;
  [[nodiscard]] Estimate estimate(const Held& held) noexcept;

  MaskPlainParams params_;
  HoldLoop loop_;
  MaskTarget target_;
  std::optional<TargetPose> resized_;  // to look from on the next frame
  Point searched_;                     // the place of that
  MaskSighting last_;
  MaskSighting sure_;  // the last one of it whole that was learnt: occluders change sizes before it is lost
};

}  // namespace mnemon
