// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol/live.hpp>

#include <algorithm>
#include <map>
#include <memory>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/random.hpp>

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

Trace live(ScriptedTracker& tracker, int frames, double rate_hz, const ClockOf& clock, int start = 0) {
  BlackFrames source(frames);
  return follow_live(tracker, source, {start, {kThere, 0}}, frames, rate_hz, clock);
}

// What a live run is, told frame by frame and microsecond by microsecond, as if watching a clock.
struct Watched {
  std::vector<int> taken;
  std::vector<int> answer_of;  // at each frame, the frame whose answer is shown; -1 for none
};

Watched watch(int frames, long period_us, const std::vector<long>& cost_us) {
  Watched seen;
  long busy_until = 0;
  int in_work = -1;
  int newest_answer = -1;
  for (long now = 0; now <= frames * period_us; ++now) {
    if (in_work >= 0 && now == busy_until) {
      newest_answer = in_work;
      in_work = -1;
    }
    if (now > 0 && now % period_us == 0) seen.answer_of.push_back(newest_answer);
    if (now == frames * period_us) break;  // a frame after the last arrives: the run is over
    const int newest = static_cast<int>(now / period_us);
    if (in_work < 0 && (seen.taken.empty() || newest > seen.taken.back())) {
      in_work = newest;
      busy_until = now + cost_us[newest];
      seen.taken.push_back(newest);
    }
  }
  return seen;
}

}  // namespace

TEST(Live, IsAsSingleForATrackerThatKeepsUp) {
  ScriptedTracker tracker(off_from(3, 5));
  const Trace trace = live(tracker, 12, 100, [](int, double) { return 9.9; });
  ASSERT_EQ(trace.rows.size(), 12U);
  for (const TraceRow& row : trace.rows) {
    EXPECT_EQ(row.event, row.frame == 0 ? Event::seed : Event::none);
    EXPECT_EQ(row.box.box, row.frame >= 3 && row.frame <= 5 ? kElsewhere : kThere);
    EXPECT_EQ(row.step_ms, 9.9);
  }
}

TEST(Live, ShowsTheNewestAnswerOnFramesThatItSkipped) {
  // 25 ms a step at 100 Hz. Seeded at 0, ready at 25: takes frame 2, ready at 50: takes 5, ready at 75: 7 and so on.
  std::map<int, Box> script;
  for (int i = 0; i < 12; ++i) script[i] = {double(i), 10, 20, 20};
  ScriptedTracker tracker(script);
  const Trace trace = live(tracker, 9, 100, [](int, double) { return 25.0; });
  EXPECT_EQ(tracker.followed, (std::vector<int>{2, 5, 7}));
  EXPECT_EQ(with_event(trace, Event::skip), (std::vector<int>{1, 3, 4, 6, 8}));
  EXPECT_FALSE(trace.rows[0].present);  // the seed's answer is there at 25 ms, after frames 1 and 2
  EXPECT_FALSE(trace.rows[1].present);
  EXPECT_EQ(trace.rows[2].box.box, kThere);  // frame 3 comes at 30 ms, when there is the seed's answer
  EXPECT_EQ(trace.rows[4].box.box.x, 2);     // frame 5 comes at 50 ms, as the answer to frame 2 does
  EXPECT_EQ(trace.rows[7].box.box.x, 5);
  EXPECT_FALSE(trace.rows[3].step_ms);
  EXPECT_EQ(trace.rows[5].step_ms, 25);
}

TEST(Live, AgreesWithWatchingAClock) {
  Random random(5);
  for (int round = 0; round < 60; ++round) {
    const int frames = 2 + static_cast<int>(random.bits() % 30);
    const long period_us = 20 + static_cast<long>(random.bits() % 60);
    std::vector<long> cost_us;
    std::map<int, Box> script;
    for (int i = 0; i < frames; ++i) {
      cost_us.push_back(1 + static_cast<long>(random.bits() % 150));
      script[i] = {double(i), 0, 5, 5};
    }
    const Watched wanted = watch(frames, period_us, cost_us);
    ScriptedTracker tracker(script);
    const Trace trace = live(tracker, frames, 1e6 / static_cast<double>(period_us),
                             [&](int frame, double) { return static_cast<double>(cost_us[frame]) / 1000; });
    std::vector<int> taken = tracker.seeded;
    taken.insert(taken.end(), tracker.followed.begin(), tracker.followed.end());
    EXPECT_EQ(taken, wanted.taken) << round;
    ASSERT_EQ(trace.rows.size(), wanted.answer_of.size());
    for (int i = 0; i < frames; ++i) {
      const TraceRow& row = trace.rows[i];
      const int answer = !row.present ? -1 : row.box.box == kThere ? 0 : static_cast<int>(row.box.box.x);
      EXPECT_EQ(answer, wanted.answer_of[i]) << "frame " << i << " of round " << round;
    }
  }
}

TEST(HighestLiveRate, IsTheFastestThatLosesLittle) {
  // The target moves by a quarter of its width a frame; answers are right for their frame, and old ones soon wrong.
  Truth truth;
  std::map<int, Box> script;
  Trace whole;
  for (int i = 0; i < 60; ++i) {
    const Box box{5.0 * i, 10, 20, 20};
    truth.rows.push_back({i, {box, 0}, true, 1, {}});
    script[i] = box;
    whole.rows.push_back({i, {box, 0}, 1, true, 15.0, i == 0 ? Event::seed : Event::none});
  }
  const auto rate_of = [&](double step_ms) {
    for (TraceRow& row : whole.rows) row.step_ms = step_ms;
    const auto areas =
        areas_by_rate([&] { return std::make_unique<ScriptedTracker>(script); },
                      [] { return std::make_unique<BlackFrames>(60); }, {0, script[0]}, truth, whole);
    EXPECT_EQ(areas.size(), 13U);
    EXPECT_TRUE(std::ranges::is_sorted(areas, {}, &RateArea::rate_hz));
    return highest_live_rate(areas, score_run(truth, whole, {.help = Help::unaided}).success_area);
  };
  EXPECT_EQ(rate_of(0.9), 960);
  EXPECT_EQ(rate_of(15), 60);  // 90 Hz are 11 ms
  EXPECT_EQ(rate_of(21), 30);  // it misses every other frame at 50 Hz
  EXPECT_FALSE(rate_of(400));
  whole.rows[1].present = false;
  for (TraceRow& row : whole.rows) row.present = false;
  EXPECT_FALSE(rate_of(1));  // nothing to come near to
}

}  // namespace mnemon
