// SPDX-License-Identifier: MIT
#include <mnemon/run/following.hpp>

#include <map>
#include <optional>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

const Box kBox{1, 1, 9, 9};

// The rows that following gives, with marks by frame; of those without a frame the seed alone.
std::vector<TraceRow> rows_of(Tracker& tracker, FrameSource& frames, const FollowOptions& options,
                              const std::map<int, Region>& marks) {
  Following following(tracker, frames, options, [&](const Frame& frame, bool) -> std::optional<Region> {
    const auto at = marks.find(frame.index);
    return at == marks.end() ? std::nullopt : std::optional(at->second);
  });
  std::vector<TraceRow> rows;
  while (const auto step = following.step()) {
    EXPECT_EQ(step->frame == nullptr, step->row.event == Event::skip);
    if (step->frame != nullptr) {
      EXPECT_EQ(step->frame->index, step->row.frame);
    }
    rows.push_back(step->row);
  }
  EXPECT_FALSE(following.step());  // once over it stays so
  return rows;
}

// A stream of which only these frames are taken in time.
class SomeFrames final : public FrameSource {
 public:
  explicit SomeFrames(std::vector<int> taken) : taken_(std::move(taken)), picture_(48, 64, 3) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == taken_.size()) return std::nullopt;
    const int index = taken_[at_++];
    return Frame{std::as_const(picture_).view(), index, index / 10.0};
  }
  bool do_skip() override { return do_next().has_value(); }
  [[nodiscard]] std::optional<int> do_total() const override { return std::nullopt; }

  std::vector<int> taken_;
  std::size_t at_ = 0;
  Image<Byte> picture_;
};

// Remembers which frames it was shown before it had a target.
class Watcher final : public Tracker {
 public:
  std::vector<int> watched;

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& /*region*/, const Box& box) override {
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& /*frame*/) override { return {{kBox, 0}, 1, true}; }
  [[nodiscard]] bool do_watches() const override { return true; }
  void do_watch(const Frame& frame) override { watched.push_back(frame.index); }
};

// Cannot be seeded on a frame with an odd number.
class Choosy final : public Tracker {
  Estimate do_seed(const Frame& frame, const Region& /*region*/, const Box& box) override {
    if (frame.index % 2 != 0) throw std::runtime_error("not on this one");
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& /*frame*/) override { return {}; }
};

}  // namespace

TEST(Following, TellsFramesThatNobodyHadTimeForUpToTheLast) {
  test::ScriptedTracker tracker;
  SomeFrames frames({0, 1, 4, 8, 14});
  std::vector<int> skipped;
  std::vector<int> seen;
  for (const TraceRow& row : rows_of(tracker, frames, {.last = 11}, {{0, kBox}}))
    (row.event == Event::skip ? skipped : seen).push_back(row.frame);
  EXPECT_EQ(seen, (std::vector<int>{0, 1, 4, 8}));
  EXPECT_EQ(skipped, (std::vector<int>{2, 3, 5, 6, 7, 9, 10, 11}));
}

TEST(Following, WaitsForARegionAndKeepsToItsFrames) {
  test::ScriptedTracker tracker;
  test::BlackFrames frames(9);
  const auto rows = rows_of(tracker, frames, {.first = 2, .last = 6}, {{1, kBox}, {3, kBox}});
  ASSERT_EQ(rows.size(), 4U);
  EXPECT_EQ(rows.front().event, Event::seed);
  EXPECT_EQ(tracker.seeded, (std::vector<int>{3}));
  EXPECT_EQ(tracker.followed, (std::vector<int>{4, 5, 6}));
}

TEST(Following, FillsTheGapsOfStepsWithTheLastAnswer) {
  test::ScriptedTracker tracker({{4, {9, 9, 9, 9}}});
  test::BlackFrames frames(9);
  const auto rows = rows_of(tracker, frames, {.last = {}, .step = 3}, {{1, kBox}});
  ASSERT_EQ(rows.size(), 7U);  // 1, 4 and 7 are followed, those between skipped
  for (const TraceRow& row : rows) {
    const bool taken = (row.frame - 1) % 3 == 0;
    EXPECT_EQ(row.event, row.frame == 1 ? Event::seed : taken ? Event::none : Event::skip);
    EXPECT_EQ(row.step_ms.has_value(), taken);
    if (!taken) {
      EXPECT_EQ(row.box, rows[row.frame - 2].box);
    }
  }
}

TEST(Following, ShowsFramesBeforeTheMarkToTrackersThatWatch) {
  Watcher tracker;
  test::BlackFrames frames(8);
  const auto rows = rows_of(tracker, frames, {.first = 1, .last = {}}, {{4, kBox}});
  EXPECT_EQ(tracker.watched, (std::vector<int>{1, 2, 3}));
  EXPECT_EQ(rows.front().frame, 4);
  const Image<Byte> grey(4, 4);
  EXPECT_THROW(tracker.watch({grey.view(), 0, 0}), CallError);
}

TEST(Following, StartsAfreshAtAMark) {
  test::ScriptedTracker tracker;
  test::BlackFrames frames(8);
  const Box later{20, 20, 10, 10};
  const auto rows = rows_of(tracker, frames, {.last = {}}, {{0, kBox}, {5, later}});
  ASSERT_EQ(rows.size(), 8U);
  EXPECT_EQ(tracker.seeded, (std::vector<int>{0, 5}));
  EXPECT_EQ(rows[5].event, Event::mark);
  for (const TraceRow& row : rows) {
    EXPECT_EQ(row.box.box, row.frame < 5 ? kBox : later) << row.frame;
    EXPECT_EQ(row.event == Event::none, row.frame != 0 && row.frame != 5);
  }
}

TEST(Following, RefusesToFollowNothing) {
  test::ScriptedTracker tracker;
  test::BlackFrames frames(2);
  const auto message = [&](const FollowOptions& options) {
    return test::message_of<CallError>([&] { (void)Following(tracker, frames, options, {}); });
  };
  test::expect_parts(message({.first = 5, .last = 2}), {"end at 2", "begin at 5"});
  test::expect_parts(message({.last = {}, .step = 0}), {"steps of 0"});
  test::expect_parts(test::message_of<CallError>([&] { skip_to(frames, 8, "two"); }),
                     {"'two' has 2 frames", "no frame 8"});
}

TEST(Following, BeginsWhereTruthHasTheTargetFirst) {
  Sequence sequence;
  sequence.name = "some";
  sequence.truth.rows = {{0, {kBox, 0}, false, 1}, {1, {kBox, 0}, true, 1}, {4, {{1, 1, 4, 4}, 0}, true, 1}};
  EXPECT_EQ(first_true_frame(sequence, 0, {}), 1);
  EXPECT_EQ(first_true_frame(sequence, 2, {}), 4);
  for (const auto& [from, last] : {std::pair{5, std::optional<int>{}}, std::pair{2, std::optional<int>{3}}})
    test::expect_parts(test::message_of<CallError>([&] { (void)first_true_frame(sequence, from, last); }),
                       {"'some'", "no truth box"});
  const MarkOnFrame marked = marked_by_truth(sequence.truth);
  const Image<Byte> picture(4, 4, 3);
  EXPECT_FALSE(marked({picture.view(), 0, 0}, false));
  EXPECT_EQ(std::get<Box>(*marked({picture.view(), 1, 0}, false)), kBox);
  EXPECT_FALSE(marked({picture.view(), 4, 0}, true));
}

// A mark is taken as it is, and what was smoothed before it is forgotten.
TEST(Following, SmoothsFromMarkToMark) {
  std::map<int, Box> script;
  for (int i = 1; i < 10; ++i) script[i] = {2.0 * i, 10, 10, 10};
  test::ScriptedTracker tracker(script);
  test::BlackFrames frames(10);
  const auto rows = rows_of(tracker, frames, {.last = {}, .smooth_s = 0.4},
                            {{0, Box{0, 10, 10, 10}}, {6, Box{30, 10, 10, 10}}});
  EXPECT_EQ(rows[0].box.box.x, 0);
  EXPECT_EQ(rows[6].box.box.x, 30);
  for (int i = 1; i < 6; ++i) EXPECT_LT(rows[i].box.box.x, 2.0 * i) << i;
  EXPECT_GT(rows[7].box.box.x, 14);  // on its way from 30
}

TEST(Stretched, GoesThereAndBack) {
  const OrientedBox box{{10, 20, 30, 14}, 25};
  EXPECT_EQ(stretched({box.box, 0}, 2, 3), (OrientedBox{{20, 60, 60, 42}, 0}));
  // Alike along both axes nothing is bent, and the way back is exact but for rounding.
  const OrientedBox there = stretched(box, 0.5, 0.5);
  EXPECT_NEAR(there.angle_deg, 25, 1e-12);
  const OrientedBox back = stretched(there, 2, 2);
  EXPECT_NEAR(back.box.x, 10, 1e-12);
  EXPECT_NEAR(back.box.h, 14, 1e-12);
  // A box on end takes its length from the other axis.
  const OrientedBox on_end = stretched({{0, 0, 10, 4}, 90}, 2, 3);
  EXPECT_NEAR(on_end.box.w, 30, 1e-12);
  EXPECT_NEAR(on_end.box.h, 8, 1e-12);
}

TEST(Tracker, HasNoTargetAfterASeedThatFailed) {
  const Image<Byte> picture(48, 64, 3);
  Choosy tracker;
  const Box box{10, 10, 20, 20};
  (void)tracker.seed({picture.view(), 0, 0}, box);
  EXPECT_THROW((void)tracker.seed({picture.view(), 1, 0}, box), std::runtime_error);
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)tracker.follow({picture.view(), 2, 0});
                     }),
                     {"no target yet"});
  (void)tracker.seed({picture.view(), 2, 0}, box);
  // A region that is refused changes nothing.
  EXPECT_THROW((void)tracker.seed({picture.view(), 3, 0}, Box{900, 900, 5, 5}), CallError);
  (void)tracker.follow({picture.view(), 4, 0});
}

}  // namespace mnemon
