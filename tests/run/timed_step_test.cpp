// SPDX-License-Identifier: MIT
#include <mnemon/run/timed_step.hpp>

#include <chrono>
#include <cmath>
#include <thread>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

const Image<Byte> kNight(48, 64, 3);
const Box kKite{10, 10, 20, 20};

Frame night(int index) { return {kNight.view(), index, index / 10.0}; }

// Takes its time.
class Slow final : public Tracker {
 public:
  explicit Slow(int ms) : ms_(ms) {}

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& /*frame*/) override {
    std::this_thread::sleep_for(std::chrono::milliseconds(ms_));
    return {{kKite, 0}, 1, true};
  }

  int ms_;
};

}  // namespace

TEST(TimedStep, SeedsWhereThereIsARegionAndFollowsOtherwise) {
  test::ScriptedTracker tracker({{2, {5, 5, 9, 9}}});
  const TraceRow seeded = timed_step(tracker, night(0), Region(kKite));
  EXPECT_EQ(seeded.event, Event::seed);
  EXPECT_EQ(seeded.frame, 0);
  const TraceRow followed = timed_step(tracker, night(2), {});
  EXPECT_EQ(followed.event, Event::none);
  EXPECT_EQ(followed.box.box, (Box{5, 5, 9, 9}));
  EXPECT_EQ(followed.confidence, 0.5);
}

TEST(TimedStep, TellsHowLongTheTrackerTook) {
  Slow tracker(20);
  (void)timed_step(tracker, night(0), Region(kKite));
  EXPECT_GE(timed_step(tracker, night(1), {}).step_ms.value(), 20);
}

TEST(TimedStep, RefusesAStepThatTakesTooLong) {
  Slow tracker(20);
  (void)timed_step(tracker, night(0), Region(kKite), {5});
  test::expect_parts(test::message_of<Error>([&] { (void)timed_step(tracker, night(1), {}, {5}); }),
                     {"frame 1", "step_limit_ms is 5"});
}

TEST(TimedStep, RefusesAnAnswerThatIsNoNumber) {
  test::ScriptedTracker tracker({{1, {std::nan(""), 0, 1, 1}}});
  (void)timed_step(tracker, night(0), Region(kKite));
  EXPECT_THROW((void)timed_step(tracker, night(1), {}), Error);
}

}  // namespace mnemon
