// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/unaided.hpp>

#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "run/protocol/scripted_runs.hpp"
#include "support/messages.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

using test::BlackFrames;
using test::kThere;
using test::ScriptedTracker;

}  // namespace

TEST(Unaided, GoesFromItsStartToTheEnd) {
  ScriptedTracker tracker;
  BlackFrames frames(9);
  const Trace trace = follow_unaided(tracker, frames, {4, {kThere, 0}});
  ASSERT_EQ(trace.rows.size(), 5U);
  EXPECT_EQ(trace.rows[0].frame, 4);
  EXPECT_EQ(trace.rows[0].event, Event::seed);
  EXPECT_EQ(tracker.followed, (std::vector<int>{5, 6, 7, 8}));
}

TEST(Unaided, FailsOnAStepThatTakesTooLong) {
  ScriptedTracker tracker;
  BlackFrames frames(9);
  test::expect_parts(test::message_of<Error>([&] {
                       (void)follow_unaided(tracker, frames, {0, {kThere, 0}}, {.ms = 0});
                     }),
                     {"frame 1", "step_limit_ms is 0"});
}

}  // namespace mnemon
