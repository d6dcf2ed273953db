// SPDX-License-Identifier: MIT
#include <mnemon/score/holds.hpp>

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

TEST(HoldCurve, HasARowForEachConfidence) {
  Trace trace = trace_of({1, 1, 1, 0});
  trace.rows[1].confidence = 0.9;
  trace.rows[2].confidence = trace.rows[3].confidence = 0.4;
  const RunScore score = score_run(truth_of({1, 1, 1, 1}), trace);
  ASSERT_EQ(score.hold_curve.size(), 2U);
  EXPECT_EQ(score.hold_curve[0].confidence, 0.4);
  EXPECT_DOUBLE_EQ(*score.hold_curve[0].precision(), 2.0 / 3);
  EXPECT_EQ(score.hold_curve[1].precision(), 1);
  EXPECT_DOUBLE_EQ(*score.hold_curve[1].recall(), 1.0 / 3);
  EXPECT_DOUBLE_EQ(*score.best_f, 2.0 / 3);
}

}  // namespace mnemon
