// SPDX-License-Identifier: MIT
#include <mnemon/score/losses.hpp>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include "score/slow_score.hpp"

#include <mnemon/score/run_score.hpp>

#include "score/made_traces.hpp"

namespace mnemon {
namespace {

using test::trace_of;
using test::truth_of;

}  // namespace

TEST(Losses, BeginWithTheFirstOfFiveOffFrames) {
  //                    0  1  2  3  4  5  6  7  8    9
  const auto truth = truth_of({1, 1, 1, 1, 1, 1, 1, 1, 1, 1});
  const RunScore score = score_run(truth, trace_of({1, 1, 0, 0, 0, 0, 0, 0.3, 0.4, 0.5}));
  EXPECT_EQ(score.losses.losses, 1);
  EXPECT_EQ(score.losses.frames_to_first_loss, 2);
  EXPECT_EQ(score.losses.frames_to_recover, 7);
  EXPECT_DOUBLE_EQ(*score.losses.time_off_target, 7.0 / 9);
  EXPECT_EQ(score_run(truth, trace_of({1, 1, 0, 0, 0, 0, 0.1, 0, 0, 0})).losses.losses, 0);
}

TEST(Losses, AreNotBrokenByAbsentFrames) {
  const RunScore score = score_run(truth_of({1, 1, 1, 0, 0, 1, 1, 1}), trace_of({1, 0, 0, -1, -1, 0, 0, 0}));
  EXPECT_EQ(score.losses.losses, 1);
  EXPECT_EQ(score.losses.recovered_share, 0);
  EXPECT_EQ(score.losses.time_off_target, 1);
}

TEST(Returns, CountPresentFramesSinceTheAbsence) {
  const RunScore score =
      score_run(truth_of({1, 0, 0, 1, 1, 1, 0, 1}), trace_of({1, -1, -1, 0.2, 0.6, 1, 1, 0.4}));
  ASSERT_EQ(score.returns.size(), 2U);
  EXPECT_EQ(score.returns[0].frame, 3);
  EXPECT_EQ(score.returns[0].frames, 2);
  EXPECT_TRUE(score.returns[0].returned);
  EXPECT_EQ(score.returns[1].frame, 7);
  EXPECT_FALSE(score.returns[1].frames);
  EXPECT_FALSE(score.returns[1].returned);
  EXPECT_EQ(score.returned_share, 0.5);
  EXPECT_EQ(score.frames_to_return, 2);
}

}  // namespace mnemon
