// SPDX-License-Identifier: MIT
#include <mnemon/run/label.hpp>

#include <algorithm>
#include <cmath>
#include <functional>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/drawn_target.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

constexpr int kFrames = 150;

// Black frames, and which of them were read.
class CountedFrames final : public FrameSource {
 public:
  explicit CountedFrames(std::vector<int>& read) : read_(read) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == kFrames) return std::nullopt;
    read_.push_back(at_);
    const Frame frame{std::as_const(picture_).view(), at_, at_ / 30.0};
    ++at_;
    return frame;
  }
  bool do_skip() override { return at_ < kFrames && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return kFrames; }

  std::vector<int>& read_;
  Image<Byte> picture_{300, 400, 3};
  int at_ = 0;
};

Box place(int frame) { return {2.0 * frame, 10 + 0.01 * frame * frame, 10, 10}; }

// Answers by the frame and by which way it is going, which its first step tells.
class Scripted final : public Tracker {
 public:
  using Answer = std::function<Estimate(int frame, bool forwards)>;
  explicit Scripted(Answer answer) : answer_(std::move(answer)) {}

 private:
  Estimate do_seed(const Frame& frame, const Region& /*region*/, const Box& box) override {
    seeded_ = frame.index;
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& frame) override { return answer_(frame.index, frame.index > seeded_); }

  Answer answer_;
  int seeded_ = 0;
};

Mark mark_on(int frame) {
  Mark mark;
  mark.frame = frame;
  mark.box = {place(frame), 0};
  return mark;
}

struct Labelled {
  std::vector<Label> labels;
  std::vector<int> read;
};

Labelled labelled(const std::vector<Mark>& marks, const Scripted::Answer& answer) {
  Labelled made;
  made.labels = label_frames(marks, kFrames, [&] { return std::make_unique<Scripted>(answer); },
                             visits_of([&] { return std::make_unique<CountedFrames>(made.read); }), {});
  return made;
}

Estimate right(int frame) { return {{place(frame), 0}, 0.9, true}; }

}  // namespace

TEST(BoxBetween, IsHalfwayInTheMiddle) {
  const OrientedBox middle = box_between({{0, 0, 10, 10}, 80}, {{20, 40, 40, 10}, -80}, 0.5);
  EXPECT_NEAR(middle.box.w, 20, 1e-12);  // by ratio
  EXPECT_NEAR(centre(middle.box).x, 22.5, 1e-12);
  EXPECT_NEAR(std::remainder(middle.angle_deg - 90, 180.0), 0, 1e-9);  // the shorter way
}

TEST(Visits, GoBackwardsInPieces) {
  std::vector<int> read;
  std::vector<int> seen;
  std::vector<double> times;
  visits_of([&] { return std::make_unique<CountedFrames>(read); })(140, 3, [&](const Frame& frame) {
    seen.push_back(frame.index);
    times.push_back(frame.time_s);
  });
  ASSERT_EQ(seen.size(), 138U);
  for (std::size_t i = 0; i < seen.size(); ++i) EXPECT_EQ(seen[i], 140 - static_cast<int>(i));
  EXPECT_TRUE(std::ranges::is_sorted(times));
  EXPECT_EQ(read.size(), 138U);  // each frame is looked at once
}

TEST(LabelFrames, AreTheTrackersWhereBothWaysAgree) {
  const Labelled made = labelled({mark_on(0), mark_on(100)}, [](int frame, bool) { return right(frame); });
  ASSERT_EQ(made.labels.size(), std::size_t{kFrames});
  for (int i = 0; i < kFrames; ++i) {
    EXPECT_EQ(made.labels[i].mark.frame, i);
    EXPECT_NEAR(overlap(made.labels[i].mark.box.box, place(i)), 1, 1e-9) << i;
    EXPECT_EQ(made.labels[i].mark.by, i == 0 || i == 100 ? "person" : "tracker");
    EXPECT_EQ(made.labels[i].why, "") << i;
  }
}

TEST(LabelFrames, GoByTheWayThatEndsOnItsKeyFrame) {
  // Forwards it leaves the target on frame 10 and is as sure as before; backwards it is right.
  const Labelled made = labelled({mark_on(0), mark_on(100)}, [](int frame, bool forwards) {
    return forwards && frame >= 10 ? Estimate{{{300, 300, 10, 10}, 0}, 0.9, true} : right(frame);
  });
  for (int i = 30; i < 100; ++i) EXPECT_NEAR(overlap(made.labels[i].mark.box.box, place(i)), 1, 1e-9) << i;
  EXPECT_NE(made.labels[50].why, "");
}

TEST(LabelFrames, AreInterpolatedWhereNobodyFindsTheTarget) {
  const Labelled made = labelled({mark_on(0), mark_on(100)}, [](int, bool) {
    return Estimate{{}, 0, false};
  });
  const Label& middle = made.labels[50];
  EXPECT_TRUE(middle.mark.present);
  EXPECT_EQ(middle.mark.by, "between");
  EXPECT_EQ(middle.mark.box, box_between({place(0), 0}, {place(100), 0}, 0.5));
  EXPECT_EQ(middle.why, "interpolated");
  EXPECT_FALSE(made.labels[120].mark.present);  // after the last key frame there is nothing to go by
}

TEST(LabelFrames, AreAbsentWhereAWayLosesItAndHoldsItAgain) {
  const Labelled made = labelled({mark_on(0), mark_on(100)}, [](int frame, bool) {
    return frame > 40 && frame < 60 ? Estimate{{}, 0, false} : right(frame);
  });
  EXPECT_FALSE(made.labels[50].mark.present);
  EXPECT_EQ(made.labels[50].why, "away");
  EXPECT_TRUE(made.labels[39].mark.present);
}

TEST(LabelFrames, StartNothingFromAKeyFrameWithoutTheTarget) {
  Mark gone;
  gone.frame = 100;
  gone.present = false;
  const Labelled made = labelled({mark_on(0), gone}, [](int frame, bool) { return right(frame); });
  EXPECT_TRUE(made.labels[50].mark.present);
  EXPECT_FALSE(made.labels[100].mark.present);
  EXPECT_FALSE(made.labels[120].mark.present);
}

TEST(LabelFrames, SayWhatIsWrongWithTheMarks) {
  const auto answer = [](int frame, bool) { return right(frame); };
  Mark gone;
  gone.present = false;
  test::expect_parts(test::message_of<CallError>([&] { labelled({gone}, answer); }),
                     {"no mark has the target"});
  test::expect_parts(test::message_of<CallError>([&] { labelled({mark_on(kFrames)}, answer); }),
                     {"frame 150", "last frame is 149"});
  Mark odd = mark_on(0);
  odd.region = "{";
  test::expect_parts(test::message_of<CallError>([&] { labelled({odd}, answer); }), {"frame 0", "no JSON"});
}

TEST(LabelFrames, CanBeStopped) {
  int done = 0;
  EXPECT_THROW(label_frames(
                   {mark_on(0)}, kFrames,
                   [] { return std::make_unique<Scripted>([](int frame, bool) { return right(frame); }); },
                   visits_of([] {
                     static std::vector<int> read;
                     return std::make_unique<CountedFrames>(read);
                   }),
                   [&](int, int total) {
                     EXPECT_GE(total, kFrames);
                     if (++done == 20) throw Error("stopped");
                   }),
               Error);
  EXPECT_EQ(done, 20);
}

// Where every frame brings its box the target is cut out of each, and of key frames when labelling.
TEST(CutMasks, CutsTheTargetOutOfEveryBox) {
  const auto target_on = [](int frame) { return Ellipse{{70.0 + 4 * frame, 60}, 24, 16, 0}; };
  const VisitFrames visit = [&](int from, int to, const std::function<void(const Frame&)>& use) {
    for (int i = from; i <= to; ++i) {
      const Image<Byte> picture =
          test::drawn_picture(std::vector<test::DrawnTarget>{{target_on(i)}}, 120, 180);
      use(test::frame_of(picture, i));
    }
  };
  Truth truth;
  for (int i = 0; i < 4; ++i) truth.rows.push_back({i, {test::box_around_drawn(target_on(i)), 0}, i != 2});
  const MakeTracker make = [] { return Catalogue::standard().make("mask-plain", {}); };
  const std::vector<Label> labels = cut_masks(truth, make, visit, {});
  ASSERT_EQ(labels.size(), 4U);
  EXPECT_FALSE(labels[2].mark.present);
  EXPECT_TRUE(labels[2].mask.lengths.empty());
  for (const int frame : {0, 1, 3}) {
    Image<Byte> right(120, 180);
    const Ellipse ellipse = target_on(frame);
    double u = 0;
    double v = 0;
    for (int r = 0; r < 120; ++r)
      for (int c = 0; c < 180; ++c) right(r, c) = test::is_inside(ellipse, c + 0.5, r + 0.5, u, v) ? 1 : 0;
    EXPECT_GT(overlap(labels[static_cast<std::size_t>(frame)].mask, runs_of(std::as_const(right).view())),
              0.85)
        << frame;
    EXPECT_EQ(labels[static_cast<std::size_t>(frame)].mark.box,
              truth.rows[static_cast<std::size_t>(frame)].box);
  }
  std::vector<Mark> keys(2);
  keys[0].box = truth.rows[0].box;
  keys[1].frame = 3;
  keys[1].box = truth.rows[3].box;
  const std::vector<Label> between =
      label_frames(keys, 4, make,
                   [&](int from, int to, const std::function<void(const Frame&)>& use) {
                     for (int i = from; i != to + (from <= to ? 1 : -1); i += from <= to ? 1 : -1)
                       visit(i, i, use);
                   },
                   {});
  for (const Label& label : between) EXPECT_FALSE(label.mask.lengths.empty()) << label.mark.frame;
  EXPECT_THROW(
      static_cast<void>(cut_masks(truth, [] { return Catalogue::standard().make("stay", {}); }, visit, {})),
      CallError);
  EXPECT_THROW(static_cast<void>(cut_masks({}, make, visit, {})), CallError);
}

}  // namespace mnemon
