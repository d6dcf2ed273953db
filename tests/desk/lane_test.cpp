// SPDX-License-Identifier: MIT
#include <mnemon/desk/lane.hpp>

#include <memory>
#include <string>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

constexpr int kShelved = 40;
constexpr int kLookedAt = 25;

Ellipse passing(int frame) { return {{60 + 1.5 * frame, 80}, 20, 14, 0}; }
const Box kSeeded = test::box_around_drawn(passing(0));

class TunedLane : public testing::Test {
 protected:
  TunedLane() {
    for (int i = 0; i < kShelved; ++i) frames.put(test::picture_of({{passing(i)}}, 5).view(), i / 25.0);
  }
  [[nodiscard]] std::unique_ptr<Lane> followed(const std::string& tracker, ParamSet set = {}) {
    auto lane = std::make_unique<Lane>(catalogue, frames, TrackerSettings{tracker, std::move(set)},
                                       std::vector<Polygon>{});
    lane->set_marks({{0, kSeeded}}, {"mark"});
    while (lane->step(kShelved - 1, kLookedAt)) {
    }
    return lane;
  }
  // What a tracker answers that was retuned right before the frame that is looked at.
  [[nodiscard]] Estimate by_hand(const std::string& tracker, const ParamSet& before, const ParamSet& after) {
    const auto made = catalogue.make(tracker, before);
    (void)made->seed(frames.at(0).frame(), kSeeded);
    for (int i = 1; i < kLookedAt; ++i) (void)made->follow(frames.at(i).frame());
    catalogue.entry(tracker).retune(*made, after);
    return made->follow(frames.at(kLookedAt).frame());
  }

  const Catalogue catalogue = Catalogue::standard();
  FrameShelf frames;
};

TEST_F(TunedLane, TriesWhatActsAtTheStepAtOnce) {
  const ParamSet after{{"smoothness", 0.0}, {"confidence_half", 0.9}};
  const Estimate wanted = by_hand("mask-plain", {}, after);
  const auto lane = followed("mask-plain");
  const double was = lane->session().row(kLookedAt)->confidence;
  lane->retune({"mask-plain", after}, kLookedAt);
  ASSERT_NE(lane->tried(), nullptr);
  EXPECT_EQ(lane->tried()->frame, kLookedAt);
  EXPECT_EQ(lane->tried()->box, wanted.box);
  EXPECT_EQ(lane->tried()->confidence, wanted.confidence);
  EXPECT_LT(lane->tried()->confidence, was);
  // Its inner pictures are there without another step.
  EXPECT_EQ(&lane->tracker_on(Moment::now, kLookedAt), &lane->tracker_on(Moment::now, kLookedAt));
  EXPECT_TRUE(lane->session().log().empty());
  EXPECT_TRUE(lane->stage(Moment::now, kLookedAt, "mask").has_value());
  EXPECT_TRUE(lane->session().log().empty());
  // The row itself takes its place, by values that held from the mark on.
  while (lane->step(kShelved - 1, kLookedAt)) {
  }
  EXPECT_EQ(lane->tried(), nullptr);
  EXPECT_EQ(lane->session().row(kLookedAt)->box,
            followed("mask-plain", after)->session().row(kLookedAt)->box);
}

TEST_F(TunedLane, ShowsStagesOfATrialOnlyUntilTheRowItselfIsThere) {
  const ParamSet after{{"colour_rate", 0.5}};
  const auto bytes_in = [](Lane& lane) {
    const std::optional<ShownStage> stage = lane.stage(Moment::now, kLookedAt, "likelihood");
    const auto bytes = stage->bytes.elements();
    return std::vector<Byte>(bytes.begin(), bytes.end());
  };
  const auto lane = followed("mask-plain");
  lane->retune({"mask-plain", after}, kLookedAt);
  ASSERT_NE(lane->tried(), nullptr);
  const std::vector<Byte> tried = bytes_in(*lane);
  while (lane->step(kShelved - 1, kLookedAt)) {
  }
  const std::vector<Byte> now = bytes_in(*lane);
  EXPECT_NE(now, tried);
  EXPECT_EQ(now, bytes_in(*followed("mask-plain", after)));
}

TEST_F(TunedLane, TriesAgainFromWhatItKnewBefore) {
  const ParamSet last{{"learning_rate", 0.5}};
  const Estimate wanted = by_hand("corr-plain", {}, last);
  const auto lane = followed("corr-plain");
  // Faster than rows can follow: each is tried from what was known before the first of them.
  for (const double rate : {0.1, 0.2, 0.3})
    lane->retune({"corr-plain", {{"learning_rate", rate}}}, kLookedAt);
  lane->retune({"corr-plain", last}, kLookedAt);
  ASSERT_NE(lane->tried(), nullptr);
  EXPECT_EQ(lane->tried()->box, wanted.box);
}

TEST_F(TunedLane, TriesNothingThatActsAtTheSeedOrOnAMark) {
  const auto lane = followed("corr-plain");
  lane->retune({"corr-plain", {{"padding", 3.0}}}, kLookedAt);
  EXPECT_EQ(lane->tried(), nullptr);
  lane->retune({"corr-plain", {{"padding", 3.0}, {"learning_rate", 0.5}}}, kLookedAt);
  EXPECT_EQ(lane->tried(), nullptr) << "there is nothing yet that was seeded so";
  const auto other = followed("corr-plain");
  other->retune({"corr-plain", {{"learning_rate", 0.5}}}, 0);
  EXPECT_EQ(other->tried(), nullptr) << "the seed's own frame";
  other->retune({"corr-kernel", {}}, kLookedAt);
  EXPECT_EQ(other->tried(), nullptr) << "another tracker";
  EXPECT_THROW(other->retune({"corr-kernel", {{"learning_rate", 7.0}}}, kLookedAt), CallError);
  EXPECT_EQ(other->settings().tracker, "corr-kernel");
  EXPECT_TRUE(other->settings().set.empty());
}

// As undoing a change of settings does, which says the marks again.
TEST_F(TunedLane, KeepsWhatWasTriedWhereMarksStay) {
  const auto lane = followed("corr-plain");
  lane->retune({"corr-plain", {{"learning_rate", 0.5}}}, kLookedAt);
  lane->set_marks({{0, kSeeded}}, {"mark"});
  EXPECT_NE(lane->tried(), nullptr);
  lane->set_marks({{0, kSeeded}}, {"another mark"});
  EXPECT_EQ(lane->tried(), nullptr);
}

TEST_F(TunedLane, PreparesAStepAtATime) {
  auto lane =
      std::make_unique<Lane>(catalogue, frames, TrackerSettings{"corr-plain", {}}, std::vector<Polygon>{});
  EXPECT_FALSE(lane->prepare(kLookedAt)) << "nothing is marked";
  lane->set_marks({{0, kSeeded}}, {"mark"});
  while (lane->step(kShelved - 1, 0)) {
  }
  int steps = 0;
  while (lane->prepare(kLookedAt)) ++steps;
  EXPECT_GT(steps, 0);
  EXPECT_LE(steps, 16);  // from the nearest tracker that is kept
  EXPECT_FALSE(lane->prepare(kLookedAt));
}

}  // namespace
}  // namespace mnemon
