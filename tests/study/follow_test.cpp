// SPDX-License-Identifier: MIT
#include <mnemon/study/follow.hpp>

#include <array>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>

#include "support/messages.hpp"
#include "support/scripted_tracker.hpp"

namespace mnemon {
namespace {

// Remembers the region that it was seeded with, and answers with a turned box.
class Witness final : public Tracker {
 public:
  std::optional<Region> seeded;
  std::vector<Byte> mask_pixels;  // a mask is a view that holds for the call alone

 private:
  Estimate do_seed(const Frame& /*frame*/, const Region& region, const Box& /*box*/) override {
    seeded = region;
    if (const auto* mask = std::get_if<ImageView<const Byte>>(&region))
      mask_pixels.assign(mask->data, mask->data + mask->size());
    return answer();
  }
  Estimate do_follow(const Frame& /*frame*/) override { return answer(); }
  static Estimate answer() { return {{{8, 6, 8, 4}, 90}, 1, true, {}, 3.0}; }
};

// Frames of 64 x 48 shown 32 wide: everything is halved.
TraceRow seeded_at_half(Witness& tracker, const Region& region) {
  test::BlackFrames frames(2);
  std::vector<TraceRow> rows;
  follow_frames(
      tracker, frames, {.region = region, .from = {}, .to = {}, .width = 32},
      [&](const Frame&) { return std::optional(region); },
      [&](const TraceRow& row, const Frame*, Tracker&) {
        rows.push_back(row);
        return true;
      });
  return rows.at(1);
}

template <class Form>
Form shown(const Region& region) {
  Witness tracker;
  (void)seeded_at_half(tracker, region);
  return std::get<Form>(*tracker.seeded);
}

}  // namespace

TEST(FollowAtAnotherWidth, ScalesEveryFormOfRegion) {
  EXPECT_EQ(shown<Box>(Box{10, 20, 8, 6}), (Box{5, 10, 4, 3}));
  const auto turned = shown<OrientedBox>(OrientedBox{{10, 20, 8, 6}, 30});
  EXPECT_NEAR(turned.box.x, 5, 1e-12);
  EXPECT_NEAR(turned.box.h, 3, 1e-12);
  EXPECT_NEAR(turned.angle_deg, 30, 1e-12);
  EXPECT_EQ(shown<Polygon>(Polygon{{10, 10}, {30, 10}, {20, 26}}), (Polygon{{5, 5}, {15, 5}, {10, 13}}));
  Image<Byte> mask(48, 64);
  for (int r = 20; r < 30; ++r)
    for (int c = 40; c < 60; ++c) mask(r, c) = 255;
  Witness tracker;
  (void)seeded_at_half(tracker, Region(std::as_const(mask).view()));
  ASSERT_EQ(tracker.mask_pixels.size(), 24U * 32U);
  for (int r = 0; r < 24; ++r)
    for (int c = 0; c < 32; ++c)
      EXPECT_EQ(tracker.mask_pixels[r * 32 + c] != 0, r >= 10 && r < 15 && c >= 20 && c < 30)
          << r << " " << c;
}

TEST(FollowAtAnotherWidth, ScalesAnswersBack) {
  Witness tracker;
  const TraceRow row = seeded_at_half(tracker, Box{10, 10, 20, 20});
  EXPECT_NEAR(row.box.box.x, 16, 1e-12);
  EXPECT_NEAR(row.box.box.w, 16, 1e-12);
  EXPECT_NEAR(row.box.angle_deg, 90, 1e-12);
  EXPECT_EQ(*row.minor_px, 6);
}

TEST(FollowAtAnotherWidth, RefusesWidthsThatWouldTakeAllMemory) {
  for (const int width : {7, 20000})
    test::expect_parts(test::message_of<CallError>([&] {
                         Witness tracker;
                         test::BlackFrames frames(2);
                         follow_frames(tracker, frames, {.region = {}, .from = {}, .to = {}, .width = width},
                                       {}, {});
                       }),
                       {"8 to 8192 px"});
}

namespace {

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

}  // namespace

TEST(FollowFrames, TellsFramesThatNobodyHadTimeForUpToTheLast) {
  test::ScriptedTracker tracker;
  SomeFrames frames({0, 1, 4, 8, 14});
  std::vector<int> skipped;
  std::vector<int> seen;
  follow_frames(
      tracker, frames, {.region = {}, .from = {}, .to = 11, .width = {}},
      [](const Frame&) {
        return std::optional<Region>(Box{1, 1, 9, 9});
      },
      [&](const TraceRow& row, const Frame*, Tracker&) {
        (row.event == Event::skip ? skipped : seen).push_back(row.frame);
        return true;
      });
  EXPECT_EQ(seen, (std::vector<int>{0, 1, 4, 8}));
  EXPECT_EQ(skipped, (std::vector<int>{2, 3, 5, 6, 7, 9, 10, 11}));
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

namespace {

// Cannot be seeded on a frame with an odd number.
class Choosy final : public Tracker {
  Estimate do_seed(const Frame& frame, const Region& /*region*/, const Box& box) override {
    if (frame.index % 2 != 0) throw std::runtime_error("not on this one");
    return {{box, 0}, 1, true};
  }
  Estimate do_follow(const Frame& /*frame*/) override { return {}; }
};

}  // namespace

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
