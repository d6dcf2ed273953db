// SPDX-License-Identifier: MIT
#include <mnemon/track/joint/evidence.hpp>

#include <cmath>

#include <gtest/gtest.h>

namespace mnemon {
namespace {

constexpr EvidenceWeights kUndecided{
    .none = 0, .confidence = 0, .contrast = 0, .agreement = 0, .loss = 0, .size_change = 0};
constexpr double kOddsRounding = 1e-12;  // some operations on numbers about 1

Estimate answer_of(const Box& box, bool present) { return {{box, 0}, 1, present}; }

}  // namespace

TEST(EvidenceWeights, WithoutAnyAreUndecided) {
  EXPECT_DOUBLE_EQ(kUndecided.belief({}), 0.5);
  EXPECT_DOUBLE_EQ(kUndecided.belief({.confidence = 0, .contrast = -1, .was_lost = true, .size_change = 9}),
                   0.5);
}

// One weight alone adds itself, times the evidence, to the log odds.
TEST(EvidenceWeights, AddToTheLogOdds) {
  const auto odds = [](EvidenceWeights weights, const Evidence& evidence) {
    const double p = weights.belief(evidence);
    return std::log(p / (1 - p));
  };
  EvidenceWeights one = kUndecided;
  one.none = -1.5;
  EXPECT_NEAR(odds(one, {}), -1.5, kOddsRounding);
  one = kUndecided;
  one.contrast = 2;
  EXPECT_NEAR(odds(one, {.contrast = 0.25}), 0.5, kOddsRounding);
  one = kUndecided;
  one.size_change = -2;
  EXPECT_NEAR(odds(one, {.size_change = 0.75}), -1.5, kOddsRounding);
  one = kUndecided;
  one.agreement = 1;
  EXPECT_NEAR(odds(one, {.agrees = true}), 1, kOddsRounding);
  EXPECT_NEAR(odds(one, {.agrees = false}), 0, kOddsRounding);
  one = kUndecided;
  one.loss = -1;
  EXPECT_NEAR(odds(one, {.was_lost = true}), -1, kOddsRounding);
}

// With weight 1 of its log odds alone, a belief is the confidence itself.
TEST(EvidenceWeights, KeepACalibratedConfidence) {
  EvidenceWeights one = kUndecided;
  one.confidence = 1;
  for (const double sure : {0.01, 0.2, 0.5, 0.9, 0.99})
    EXPECT_NEAR(one.belief({.confidence = sure}), sure, kOddsRounding);
}

// However sure a way is of itself, other evidence still counts.
TEST(EvidenceWeights, BoundWhatACertainConfidenceCounts) {
  EvidenceWeights one = kUndecided;
  one.confidence = 1;
  EXPECT_NEAR(one.belief({.confidence = 1}), 0.999, kOddsRounding);
  EXPECT_NEAR(one.belief({.confidence = 0}), 0.001, kOddsRounding);
}

TEST(SinceAgreed, ForgetsALossWhereBothAgreeAgain) {
  const Box box{10, 10, 20, 20};
  SinceAgreed since(box);
  EXPECT_FALSE(since.was_lost());
  since.take(answer_of(box, false), false);
  EXPECT_TRUE(since.was_lost());
  since.take(answer_of(box, true), false);
  EXPECT_TRUE(since.was_lost());
  since.take(answer_of(box, true), true);
  EXPECT_FALSE(since.was_lost());
}

TEST(SinceAgreed, ComparesSizesWithTheOneAgreedOn) {
  SinceAgreed since({0, 0, 20, 20});
  EXPECT_DOUBLE_EQ(since.size_change({5, 5, 20, 20}), 0);
  EXPECT_DOUBLE_EQ(since.size_change({5, 5, 40, 20}), std::log(2));
  EXPECT_DOUBLE_EQ(since.size_change({5, 5, 10, 20}), std::log(2));
  since.take(answer_of({0, 0, 40, 40}, true), false);
  EXPECT_DOUBLE_EQ(since.size_change({0, 0, 40, 40}), std::log(4));
  since.take(answer_of({0, 0, 40, 40}, true), true);
  EXPECT_DOUBLE_EQ(since.size_change({0, 0, 40, 40}), 0);
}

}  // namespace mnemon
