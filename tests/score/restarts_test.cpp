// SPDX-License-Identifier: MIT
#include <mnemon/score/restarts.hpp>

#include <vector>

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

TEST(Survival, OfAKnownCase) {
  // Lost after 3, lost after 5, cut short at 5, lost after 8: 3/4, then 2 of 3 left, then none.
  const std::vector<Stretch> stretches{{8, true}, {5, false}, {3, true}, {5, true}};
  const auto curve = survival_curve(stretches);
  ASSERT_EQ(curve.size(), 3U);
  EXPECT_EQ(curve[0].n, 3);
  EXPECT_DOUBLE_EQ(curve[0].share, 0.75);
  EXPECT_DOUBLE_EQ(curve[1].share, 0.5);
  EXPECT_EQ(curve[2].share, 0);
  EXPECT_EQ(median_hold(curve), 5);
  EXPECT_FALSE(median_hold(survival_curve(std::vector<Stretch>{{9, false}})));
}

TEST(Restart, LeavesOutTheGapAndTheSettling) {
  Truth truth = truth_of(std::vector<int>(40, 1));
  std::vector<double> overlaps(40, 1);
  for (int i = 5; i < 10; ++i) overlaps[i] = 0;
  Trace trace = trace_of(overlaps);
  trace.rows[9].event = Event::loss;
  for (int i = 10; i < 14; ++i) trace.rows[i].event = Event::skip;
  trace.rows[14].event = Event::reseed;
  const RunScore score = score_run(truth, trace);
  EXPECT_EQ(score.help, Help::restart);
  EXPECT_EQ(score.scored_frames, 9 + 15);  // frames 1 to 9 and 25 to 39
  EXPECT_EQ(score.restarts, 1);
  EXPECT_DOUBLE_EQ(*score.restarts_per_1000, 1000.0 / 39);
  EXPECT_EQ(score.held_overlap, 1);
  EXPECT_EQ(score.stretches, (std::vector<Stretch>{{5, true}, {25, false}}));
}

}  // namespace mnemon
