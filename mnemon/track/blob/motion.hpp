// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/track/blob/blob_follower.hpp>
#include <mnemon/track/blob/motion_evidence.hpp>

namespace mnemon {

/// What `blob-motion` goes by.
struct BlobMotionParams : BlobRules, PreparationRules {
  // What moves is torn more than what is of one colour, and stands out less surely.
  BlobMotionParams() {
    smooth = 0.05;
    close = 0.15;
    confidence_half = 0.81;
    confidence_steepness = 2.8;
    present_from = 0.07;
    learn_from = 0.15;
    refind_from = 0.15;
  }

  static void describe(auto& schema) {
    using P = BlobMotionParams;
    schema.list(
        "chain", &P::chain, Preparation::step_names(),
        "Steps that frames go through, in their order: grey first; then gamma of brightness, blur, average "
        "over "
        "frames, difference to the frame before, background of mean and deviation, and leaving out shadows.");
    schema.at_step().field(
        "gamma", &P::gamma, {0.1, 10.0}, "",
        "Power that brightness is raised to; raising it darkens and spreads what is bright.");
    schema.at_step().field("blur_px", &P::blur_px, {1.0, 51.0}, "px",
                           "Width that blur averages over; raising it takes away noise, and small targets.");
    schema.at_step().field(
        "average_rate", &P::average_rate, {0.01, 1.0}, "",
        "Weight of the newest frame in the average; raising it averages over fewer frames.");
    schema.at_step().field(
        "difference_level", &P::difference_level, {1.0, 255.0}, "levels",
        "Change to the frame before that matches; raising it matches faster or starker motion only.");
    schema.at_step().field(
        "background_rate", &P::background_rate, {0.0, 0.5}, "",
        "Weight of the newest frame in the background; raising it takes in what stands still sooner.");
    schema.at_step().field(
        "sigmas", &P::sigmas, {0.5, 20.0}, "deviations",
        "Distance from the background that matches; raising it matches less noise, and less of the "
        "target.");
    schema.at_step().field("shadow_from", &P::shadow_from, {0.0, 1.0}, "of the background",
                           "Darkest that a shadow may be; raising it keeps dark targets.");
    schema.at_step().field("shadow_to", &P::shadow_to, {0.0, 1.0}, "of the background",
                           "Lightest that a shadow may be; raising it leaves out fainter shadows.");
    BlobRules::describe(schema);
  }

  /// \throws CallError  where the chain makes no sense, or shadows would begin above where they end.
  void check() const;
};

/// Follows the piece that stands out by its motion before a still camera: whole frames go through a chain of steps, and
/// what comes out is cleaned and picked as by `blob-colour`. Seeds: box, turned box, polygon, mask. Stages: `prepared`,
/// `background`, `weights`, `matches`, `piece`. Source: Wren, Azarbayejani, Darrell and Pentland, TPAMI 1997.
class BlobMotion final : public Tracker {
 public:
  /// Seeding or watching comes next.
  explicit BlobMotion(const BlobMotionParams& params);

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const BlobMotionParams& params);

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override { return follower_.follow(frame); }
  std::vector<Stage> do_stages() override;
  [[nodiscard]] std::vector<Candidate> do_candidates() const override { return follower_.candidates(); }
  [[nodiscard]] bool do_watches() const override { return true; }
  void do_watch(const Frame& frame) override { follower_.evidence().watch(frame, params_); }
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override { return follower_.mask(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<BlobMotion>(*this);
  }

  BlobMotionParams params_;
  BlobFollower<MotionEvidence> follower_;
  std::vector<Image<float>> pictures_;
};

}  // namespace mnemon
