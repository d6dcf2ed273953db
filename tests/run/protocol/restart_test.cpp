// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/restart.hpp>

#include <cmath>
#include <vector>

#include <gtest/gtest.h>

#include "run/protocol/scripted_runs.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

using test::BlackFrames;
using test::kElsewhere;
using test::kThere;
using test::off_from;
using test::ScriptedTracker;
using test::with_event;

Truth still_truth(int frames) {
  Truth truth;
  for (int i = 0; i < frames; ++i) truth.rows.push_back({i, {kThere, 0}, true, 1, {}});
  return truth;
}

Trace restarted(ScriptedTracker& tracker, const Truth& truth, int frames, const RestartParams& params = {}) {
  BlackFrames source(frames);
  return follow_with_restarts(tracker, source, {0, {kThere, 0}}, truth, params);
}

}  // namespace

TEST(Restart, BeginsAgainFiveFramesAfterTheLoss) {
  ScriptedTracker tracker(off_from(6, 12));
  const Trace trace = restarted(tracker, still_truth(40), 40);
  ASSERT_EQ(trace.rows.size(), 40U);
  EXPECT_EQ(with_event(trace, Event::loss), std::vector<int>{10});  // the fifth of 6, 7, 8, 9, 10
  EXPECT_EQ(with_event(trace, Event::skip), (std::vector<int>{11, 12, 13, 14}));
  EXPECT_EQ(with_event(trace, Event::reseed), std::vector<int>{15});
  EXPECT_TRUE(std::isnan(trace.rows[12].box.box.x));
  EXPECT_FALSE(trace.rows[12].present);
  EXPECT_EQ(tracker.seeded, (std::vector<int>{0, 15}));
  EXPECT_EQ(tracker.followed.size(), 40U - 4 - 2);
  EXPECT_EQ(trace.rows[15].box.box, kThere);
  const RunScore score = score_run(still_truth(40), trace, make_protocol("restart").score_options());
  EXPECT_EQ(score.restarts, 1);
  EXPECT_EQ(score.held_overlap, 1);
  EXPECT_EQ(score.stretches, (std::vector<Stretch>{{6, true}, {24, false}}));
}

TEST(Restart, CountsOffFramesWhileSettlingTowardsTheNextLoss) {
  ScriptedTracker tracker(off_from(6, 25));
  const Trace trace = restarted(tracker, still_truth(60), 60);
  EXPECT_EQ(with_event(trace, Event::loss), (std::vector<int>{10, 20}));  // started at 15, off at 16 to 20
  EXPECT_EQ(with_event(trace, Event::reseed), (std::vector<int>{15, 25}));
}

TEST(Restart, WaitsUntilEnoughOfTheTargetIsSeen) {
  Truth truth = still_truth(40);
  for (int i = 12; i < 20; ++i) truth.rows[i] = {i, {}, false, 0, {}};
  truth.rows[20].visible = 0.4;
  truth.rows.erase(truth.rows.begin() + 21);  // no truth for frame 21
  ScriptedTracker tracker(off_from(6, 39));
  const Trace trace = restarted(tracker, truth, 40);
  EXPECT_EQ(with_event(trace, Event::reseed).at(0), 22);
}

TEST(Restart, LetsAbsentFramesNeitherCountNorBreakTheRow) {
  Truth truth = still_truth(30);
  for (const int i : {7, 9, 10}) truth.rows[i] = {i, {}, false, 0, {}};
  ScriptedTracker tracker(off_from(6, 29));
  EXPECT_EQ(with_event(restarted(tracker, truth, 30), Event::loss).at(0), 13);  // off on 6, 8, 11, 12, 13
}

TEST(Restart, StaysLostWhereNothingIsLeftToStartFrom) {
  ScriptedTracker tracker(off_from(6, 12));
  const Trace trace = restarted(tracker, still_truth(14), 14);
  EXPECT_EQ(with_event(trace, Event::skip), (std::vector<int>{11, 12, 13}));
  EXPECT_TRUE(with_event(trace, Event::reseed).empty());
}

TEST(Restart, KeepsToItsParameters) {
  ScriptedTracker tracker(off_from(6, 12));
  const Trace trace = restarted(tracker, still_truth(40), 40, {.loss_patience = 2, .restart_gap = 8});
  EXPECT_EQ(with_event(trace, Event::loss), std::vector<int>{7});
  EXPECT_EQ(with_event(trace, Event::reseed), std::vector<int>{15});
}

}  // namespace mnemon
