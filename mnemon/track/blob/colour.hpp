// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/track/blob/blob_follower.hpp>
#include <mnemon/track/blob/colour_evidence.hpp>

namespace mnemon {

/// What `blob-colour` goes by.
struct BlobColourParams : BlobRules {
  BlobColourParams() {
    confidence_half = 0.26;
    confidence_steepness = 3.1;
    present_from = 0.65;
    learn_from = 0.85;
    refind_from = 0.88;
  }
  std::string colour = "learnt";
  int red = 255;
  int green = 0;
  int blue = 0;
  double distance = 60;
  double level = 0;
  double target_rate = 0.01;
  double around_rate = 0.06;
  std::string space = kPartsByTarget;

  static void describe(auto& schema) {
    using P = BlobColourParams;
    schema.field("colour", &P::colour, {"learnt", "given"},
                 "Whether the target's colours are learnt from the seed region, or red, green, blue and "
                 "distance say.");
    schema.at_step().field("red", &P::red, {0, 255}, "", "Of the given colour.");
    schema.at_step().field("green", &P::green, {0, 255}, "", "Of the given colour.");
    schema.at_step().field("blue", &P::blue, {0, 255}, "", "Of the given colour.");
    schema.at_step().field(
        "distance", &P::distance, {1.0, 300.0}, "levels",
        "From the given colour, how far still matches; raising it matches more, other things too.");
    schema.at_step().field(
        "level", &P::level, {0.0, 0.99}, "weight",
        "Weights above it match, 0 to choose it by the seed region; raising it matches surer colours "
        "only.");
    schema.at_step().field(
        "target_rate", &P::target_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in the target's colours; raising it follows changing light and "
        "drifts "
        "sooner.");
    schema.at_step().field(
        "around_rate", &P::around_rate, {0.0, 1.0}, "",
        "Weight of the newest frame in the surroundings' colours; raising it suits a moving camera.");
    describe_space<P>(schema);
    BlobRules::describe(schema);
    RivalRules::describe(schema);
  }
};

/// Follows the piece of matching colour: pixels weighed by how much rarer their colour is around the target, a level
/// chosen between the two, cleaned, and the piece picked that is most like the target. Seeds: box, turned box, polygon,
/// mask. While the target is seen, what is like it is looked at too: where it was lost, or jumps, only what is more
/// like it than those is taken for it. Stages: `weights`, `matches`, `piece`. Source: Swain and Ballard, IJCV 1991,
/// for the ratio of histograms.
class BlobColour final : public Tracker {
 public:
  /// Seeding comes next.
  explicit BlobColour(const BlobColourParams& params) : params_(params) {}

  /// Goes on by other parameters, which differ in what acts at the step alone.
  void retune(const BlobColourParams& params);

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& box) override;
  Estimate do_follow(const Frame& frame) override { return follower_.follow(frame); }
  std::vector<Stage> do_stages() override { return follower_.stages(); }
  [[nodiscard]] std::vector<Candidate> do_candidates() const override { return follower_.candidates(); }
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override;
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override { return follower_.mask(); }
  [[nodiscard]] std::unique_ptr<Tracker> do_clone() const override {
    return std::make_unique<BlobColour>(*this);
  }

  [[nodiscard]] ColourEvidence::Rules evidence_rules() const;

  BlobColourParams params_;
  BlobFollower<ColourEvidence> follower_;
};

}  // namespace mnemon
