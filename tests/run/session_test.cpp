// SPDX-License-Identifier: MIT
#include <mnemon/run/session.hpp>

#include <cmath>
#include <map>
#include <memory>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/run/following.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/drawn_target.hpp"
#include "support/messages.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

constexpr int kCount = 60;

// A patterned ellipse that goes to and fro.
Ellipse target_on(int frame) { return {{75 + 30 * std::sin(frame * 0.12), 50 + 0.2 * frame}, 13, 11, 0}; }
Box place_on(int frame) { return test::box_around_drawn(target_on(frame)); }

class MovingFrames final : public FrameSource {
 private:
  std::optional<Frame> do_next() override {
    if (at_ == kCount) return std::nullopt;
    picture_ = test::drawn_picture(std::vector<test::DrawnTarget>{{target_on(at_)}}, 120, 160);
    const int index = at_++;
    return Frame{std::as_const(picture_).view(), index, index / 25.0};
  }
  bool do_skip() override { return at_ < kCount && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return kCount; }
  int at_ = 0;
  Image<Byte> picture_;
};

std::unique_ptr<FrameSource> open_moving() { return std::make_unique<MovingFrames>(); }

MakeTracker maker(const std::string& name) {
  return [name] { return Catalogue::standard().make(name, {}); };
}

// What following the frames once gives.
std::vector<TraceRow> followed(const std::string& name, const std::map<int, Region>& marks,
                               double smooth_s = 0) {
  const auto tracker = Catalogue::standard().make(name, {});
  const auto frames = open_moving();
  FollowOptions options;
  options.smooth_s = smooth_s;
  Following following(*tracker, *frames, options, [&](const Frame& frame, bool) -> std::optional<Region> {
    const auto at = marks.find(frame.index);
    return at == marks.end() ? std::nullopt : std::optional(at->second);
  });
  std::vector<TraceRow> rows;
  while (const auto step = following.step()) rows.push_back(step->row);
  return rows;
}

void expect_same(const std::vector<TraceRow>& rows, std::vector<TraceRow> wanted) {
  ASSERT_EQ(rows.size(), wanted.size());
  for (std::size_t i = 0; i < rows.size(); ++i) {
    wanted[i].step_ms = rows[i].step_ms;  // times differ
    EXPECT_EQ(rows[i], wanted[i]) << "row " << i;
  }
}

// Every tracker: rows, marks, corrections and smoothing are those of following once, bit for bit.
TEST(Session, GivesTheRowsOfFollowing) {
  const Catalogue catalogue = Catalogue::standard();
  for (const TrackerEntry& entry : catalogue.entries()) {
    SCOPED_TRACE(entry.name);
    FrameShelf shelf(open_moving);
    Session session(maker(entry.name), shelf, 0.1);
    session.mark({5, place_on(5)});
    session.mark({30, place_on(30)});
    while (session.step(kCount - 1)) {
    }
    expect_same(session.trace().rows, followed(entry.name, {{5, place_on(5)}, {30, place_on(30)}}, 0.1));
  }
}

TEST(Session, GivesTheSameInWhateverOrderItIsAsked) {
  const auto wanted = followed("corr-kernel", {{5, place_on(5)}, {30, place_on(30)}});
  FrameShelf shelf(open_moving);
  Session session(maker("corr-kernel"), shelf);
  session.mark({30, place_on(30)});
  EXPECT_EQ(session.seek(45).frame, 45);
  EXPECT_EQ(session.seek(45).event, Event::none);
  EXPECT_EQ(session.row(30)->event, Event::seed);
  session.mark({5, place_on(5)});  // what was the first mark corrects now
  EXPECT_EQ(session.seek(59).frame, 59);
  EXPECT_EQ(session.row(30)->event, Event::mark);
  EXPECT_EQ(session.row(10), nullptr);
  EXPECT_EQ(session.seek(10).frame, 10);
  while (session.step(kCount - 1)) {
  }
  expect_same(session.trace().rows, wanted);
}

TEST(Session, BeginsWithTheStretchThatIsLookedAt) {
  FrameShelf shelf(open_moving);
  Session session(maker("corr-plain"), shelf);
  session.mark({0, place_on(0)});
  session.mark({40, place_on(40)});
  for (int i = 0; i < 5; ++i) EXPECT_TRUE(session.step(59, 42));
  EXPECT_NE(session.row(44), nullptr);
  EXPECT_EQ(session.row(0), nullptr);
  EXPECT_EQ(session.log().size(), 5U);
  EXPECT_EQ(session.last_frame(), 44);
}

TEST(Session, TakesAMarkBack) {
  FrameShelf shelf(open_moving);
  Session session(maker("corr-plain"), shelf);
  session.mark({0, place_on(0)});
  (void)session.seek(50);
  const int before = session.generation();
  session.mark({20, Box{100, 80, 20, 20}});
  EXPECT_GT(session.generation(), before);
  EXPECT_NE(session.row(19), nullptr);
  EXPECT_EQ(session.row(20), nullptr);
  (void)session.seek(50);
  EXPECT_TRUE(session.unmark(20));
  EXPECT_FALSE(session.unmark(20));
  (void)session.seek(59);
  expect_same(session.trace().rows, followed("corr-plain", {{0, place_on(0)}}));
  EXPECT_TRUE(session.unmark(0));
  EXPECT_TRUE(session.trace().rows.empty());
  EXPECT_FALSE(session.last_frame());
  test::expect_parts(test::message_of<CallError>([&] { (void)session.seek(3); }),
                     {"not marked up to frame 3"});
}

// A tracker that answers the same mask and stages for a frame, wherever one comes from.
TEST(Session, ShowsTheTrackerAsItWas) {
  FrameShelf shelf(open_moving);
  Session session(maker("mask-memory"), shelf);
  session.mark({0, place_on(0)});
  const auto stages_on = [&](int frame) {
    std::vector<std::vector<float>> stages;
    for (const Stage& stage : session.tracker_on(frame).stages()) {
      const Image<float> copy = copy_of(stage.picture);
      stages.emplace_back(copy.elements().begin(), copy.elements().end());
    }
    return stages;
  };
  const auto at_20 = stages_on(20);  // as it goes on
  const auto at_21 = stages_on(21);
  (void)session.seek(59);
  EXPECT_EQ(stages_on(20), at_20);  // from what was kept
  EXPECT_EQ(stages_on(21), at_21);
  EXPECT_EQ(stages_on(20), at_20);
  EXPECT_NE(at_20, at_21);
}

// One that cannot be copied is run again from its mark.
TEST(Session, ShowsATrackerThatCannotBeCopied) {
  FrameShelf shelf([] { return std::make_unique<test::BlackFrames>(kCount); });
  std::vector<test::ScriptedTracker*> made;
  Session session(
      [&made]() -> std::unique_ptr<Tracker> {
        auto tracker = std::make_unique<test::ScriptedTracker>();
        made.push_back(tracker.get());
        return tracker;
      },
      shelf);
  session.mark({2, Box{1, 1, 9, 9}});
  (void)session.seek(30);
  auto* const shown = dynamic_cast<test::ScriptedTracker*>(&session.tracker_on(10));
  ASSERT_NE(shown, nullptr);
  EXPECT_NE(shown, made.front());
  EXPECT_EQ(shown->seeded, std::vector<int>{2});
  EXPECT_EQ(shown->followed.size(), 8U);
  EXPECT_EQ(dynamic_cast<test::ScriptedTracker*>(&session.tracker_on(12))->followed.size(),
            10U);  // it went on
  EXPECT_EQ(made.front()->followed.size(), 28U);
}

// A watching tracker is shown the frames before the first mark, as following does.
class Watcher final : public Tracker {
 public:
  explicit Watcher(std::vector<int>& watched) : watched_(watched) {}

 private:
  [[nodiscard]] bool do_watches() const override { return true; }
  void do_watch(const Frame& frame) override { watched_.push_back(frame.index); }
  Estimate do_seed(const Frame&, const Region&, const Box& box) override { return {{box, 0}, 1, true}; }
  Estimate do_follow(const Frame&) override { return {{{1, 1, 9, 9}, 0}, 1, true}; }
  std::vector<int>& watched_;
};

TEST(Session, ShowsWhatComesBeforeTheFirstMark) {
  FrameShelf shelf([] { return std::make_unique<test::BlackFrames>(20); });
  std::vector<int> watched;
  Session session([&] { return std::make_unique<Watcher>(watched); }, shelf);
  session.mark({4, Box{1, 1, 9, 9}});
  session.mark({10, Box{1, 1, 9, 9}});
  while (session.step(12)) {
  }
  EXPECT_EQ(watched, (std::vector<int>{0, 1, 2, 3}));
  EXPECT_EQ(session.trace().rows.size(), 9U);
}

TEST(Session, KeepsTheRowMissingWhereATrackerFails) {
  FrameShelf shelf([] { return std::make_unique<test::BlackFrames>(10); });
  Session session(maker("corr-plain"), shelf);
  session.mark({0, Box{200, 200, 5, 5}});  // outside
  EXPECT_THROW((void)session.step(5), CallError);
  EXPECT_EQ(session.row(0), nullptr);
  session.mark({0, Box{10, 10, 20, 20}});
  EXPECT_TRUE(session.step(5));
  EXPECT_THROW((void)session.seek(10), CallError);  // there is no such frame
  EXPECT_NE(session.row(9), nullptr);
  test::expect_parts(test::message_of<CallError>([&] {
                       session.mark({-1, Box{1, 1, 2, 2}});
                     }),
                     {"no frame -1"});
}

}  // namespace
}  // namespace mnemon
