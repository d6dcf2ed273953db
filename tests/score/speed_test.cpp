// SPDX-License-Identifier: MIT
#include <mnemon/score/speed.hpp>

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

TEST(Speed, LeavesOutSeedsAndSkippedFrames) {
  Trace trace = trace_of({1, 1, 1, 1, 1});
  const double times[] = {50, 2, 4, 99, 6};
  for (int i = 0; i < 5; ++i) trace.rows[i].step_ms = times[i];
  trace.rows[3].event = Event::skip;
  const RunScore score = score_run(truth_of({1, 1, 1, 1, 1}), trace);
  EXPECT_EQ(score.speed.seed_ms, 50);
  EXPECT_EQ(score.speed.steps, 3);
  EXPECT_DOUBLE_EQ(*score.speed.step_ms_mean, 4);
  EXPECT_DOUBLE_EQ(*score.speed.step_ms_p95, 5.8);
  EXPECT_DOUBLE_EQ(*score.speed.frames_per_s, 250);
  EXPECT_EQ(score.skipped_share, 0.25);
}

}  // namespace mnemon
