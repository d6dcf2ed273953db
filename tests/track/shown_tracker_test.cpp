// SPDX-License-Identifier: MIT
#include <mnemon/track/shown_tracker.hpp>

#include <algorithm>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/allocations.hpp"
#include "support/drawn_target.hpp"
#include "support/every_tracker.hpp"
#include "support/messages.hpp"

namespace mnemon {
namespace {

constexpr int kShownFrames = 45;
const Polygon kCorner{{120, 80}, {220, 80}, {220, 160}, {120, 160}};
const Box kSeed{20, 20, 60, 40};

// What a tracker was asked, and its answers: those of a picture half as large.
class Witness final : public Tracker {
 public:
  FrameSize size;
  std::optional<Region> seeded;
  std::vector<Byte> mask_pixels;  // a mask is a view that holds for the call alone
  int watched = 0;

 private:
  Estimate do_seed(const Frame& frame, const Region& region, const Box& /*box*/) override {
    size = frame.size();
    seeded = region;
    if (const auto* mask = std::get_if<ImageView<const Byte>>(&region))
      mask_pixels.assign(mask->data, mask->data + mask->size());
    mask_ = Image<Byte>(frame.rgb.rows, frame.rgb.cols);
    for (int r = 6; r < 10; ++r)
      for (int c = 8; c < 16; ++c) mask_(r, c) = 1;
    return answer();
  }
  Estimate do_follow(const Frame& /*frame*/) override { return answer(); }
  [[nodiscard]] bool do_watches() const override { return true; }
  void do_watch(const Frame& /*frame*/) override { ++watched; }
  std::vector<Stage> do_stages() override {
    return {{"plain", {}, OrientedBox{{1, 2, 3, 4}, 0}}, {"nowhere", {}}};
  }
  [[nodiscard]] std::vector<Candidate> do_candidates() const override {
    return {{{2, 4, 6, 8}, 0.5, 0, "taken"}};
  }
  [[nodiscard]] std::vector<SeedChoice> do_choices() const override { return {{"level", 3}}; }
  [[nodiscard]] ImageView<const Byte> do_mask() const noexcept override { return mask_.view(); }
  static Estimate answer() { return {{{8, 6, 8, 4}, 90}, 1, true, {}, 3.0}; }

  Image<Byte> mask_;
};

// A witness that is shown frames of 64 x 48 half as large.
struct AtHalf {
  Witness* witness = new Witness;  // the tracker's
  ShownTracker tracker{std::unique_ptr<Tracker>(witness), {.width = 32}};
  Image<Byte> picture{48, 64, 3};
  [[nodiscard]] Frame frame() const { return {picture.view(), 0, 0}; }
  template <class Form>
  Form shown(const Region& region) {
    (void)tracker.seed(frame(), region);
    return std::get<Form>(*witness->seeded);
  }
};

// A target that is away from frame 20 to 34, and something just like it, or not, in a corner from frame 5 on.
std::vector<Image<Byte>> away_and_back(bool has_twin) {
  std::vector<Image<Byte>> pictures;
  for (int i = 0; i < kShownFrames; ++i) {
    std::vector<test::DrawnTarget> targets;
    if (i < 20 || i >= 35) targets.push_back({{{50 + 0.5 * i, 40}, 30, 20, 0}});
    if (has_twin && i >= 5) targets.push_back({{{175 - 0.5 * i, 122}, 30, 20, 0}});
    Image<Byte> picture =
        test::drawn_picture(targets, test::kRows, test::kCols, static_cast<std::uint64_t>(i));
    pictures.push_back(std::move(picture));
  }
  return pictures;
}

std::vector<Estimate> follow_all(Tracker& tracker, const std::vector<Image<Byte>>& pictures, int from = 0) {
  std::vector<Estimate> estimates;
  for (int i = from; i < kShownFrames; ++i) {
    estimates.push_back(test::seed_or_follow(tracker, test::frame_of(pictures[i], i), kSeed));
    estimates.back().mask = {};
  }
  return estimates;
}

void expect_same(const std::vector<Estimate>& a, const std::vector<Estimate>& b) {
  ASSERT_EQ(a.size(), b.size());
  for (std::size_t i = 0; i < a.size(); ++i) {
    EXPECT_EQ(a[i].box, b[i].box) << i;
    EXPECT_EQ(a[i].confidence, b[i].confidence) << i;
    EXPECT_EQ(a[i].present, b[i].present) << i;
  }
}

class EveryTrackerShownOtherwise : public ::testing::TestWithParam<std::string> {
 protected:
  [[nodiscard]] static std::unique_ptr<Tracker> make(const Showing& showing) {
    return shown(Catalogue::standard().make(GetParam(), {}), showing);
  }
};

}  // namespace

TEST(ShownTracker, ScalesEveryFormOfRegion) {
  AtHalf half;
  EXPECT_EQ(half.shown<Box>(Box{10, 20, 8, 6}), (Box{5, 10, 4, 3}));
  EXPECT_EQ(half.witness->size, (FrameSize{32, 24}));
  const auto turned = half.shown<OrientedBox>(OrientedBox{{10, 20, 8, 6}, 30});
  EXPECT_NEAR(turned.box.x, 5, 1e-12);
  EXPECT_NEAR(turned.box.h, 3, 1e-12);
  EXPECT_NEAR(turned.angle_deg, 30, 1e-12);
  EXPECT_EQ(half.shown<Polygon>(Polygon{{10, 10}, {30, 10}, {20, 26}}), (Polygon{{5, 5}, {15, 5}, {10, 13}}));
  Image<Byte> mask(48, 64);
  for (int r = 20; r < 30; ++r)
    for (int c = 40; c < 60; ++c) mask(r, c) = 255;
  (void)half.tracker.seed(half.frame(), Region(std::as_const(mask).view()));
  ASSERT_EQ(half.witness->mask_pixels.size(), 24U * 32U);
  for (int r = 0; r < 24; ++r)
    for (int c = 0; c < 32; ++c)
      EXPECT_EQ(half.witness->mask_pixels[r * 32 + c] != 0, r >= 10 && r < 15 && c >= 20 && c < 30)
          << r << " " << c;
}

TEST(ShownTracker, ScalesAnswersBack) {
  AtHalf half;
  EXPECT_TRUE(half.tracker.watches());
  half.tracker.watch(half.frame());
  EXPECT_EQ(half.witness->watched, 1);
  (void)half.tracker.seed(half.frame(), Box{10, 10, 20, 20});
  const Estimate estimate = half.tracker.follow(half.frame());
  EXPECT_NEAR(estimate.box.box.x, 16, 1e-12);
  EXPECT_NEAR(estimate.box.box.w, 16, 1e-12);
  EXPECT_NEAR(estimate.box.angle_deg, 90, 1e-12);
  EXPECT_EQ(*estimate.minor_px, 6);
  ASSERT_EQ(estimate.mask.rows, 48);
  ASSERT_EQ(estimate.mask.cols, 64);
  for (int r = 0; r < 48; ++r)
    for (int c = 0; c < 64; ++c)
      EXPECT_EQ(estimate.mask(r, c) != 0, r >= 12 && r < 20 && c >= 16 && c < 32) << r << ' ' << c;
  const std::vector<Stage> stages = half.tracker.stages();
  EXPECT_EQ(stages[0].area->box, (Box{2, 4, 6, 8}));
  EXPECT_FALSE(stages[1].area);
  EXPECT_EQ(half.tracker.candidates()[0].box, (Box{4, 8, 12, 16}));
  EXPECT_EQ(half.tracker.choices()[0].name, "level");
  EXPECT_EQ(half.tracker.clone(), nullptr);  // as a witness cannot be cloned
}

TEST(ShownTracker, RefusesWidthsThatWouldTakeAllMemory) {
  for (const int width : {7, 20000})
    test::expect_parts(
        test::message_of<CallError>([&] { ShownTracker(std::make_unique<Witness>(), {.width = width}); }),
        {"8 to 8192 px"});
  ShownTracker tall(std::make_unique<Witness>(), {.width = 8000});
  const Image<Byte> picture(20, 10, 3);
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)tall.seed({picture.view(), 0, 0}, Box{1, 1, 5, 5});
                     }),
                     {"10 x 20", "16000 rows"});
}

TEST(ShownTracker, RefusesATargetInAnAreaToKeepOut) {
  ShownTracker tracker(std::make_unique<Witness>(), {.keep_out = {kCorner}});
  const Image<Byte> picture(test::kRows, test::kCols, 3);
  test::expect_parts(test::message_of<CallError>([&] {
                       (void)tracker.seed({picture.view(), 0, 0}, Box{130, 90, 20, 20});
                     }),
                     {"140,100", "area to keep out"});
}

TEST(ShownTracker, IsTheTrackerItselfWhereNothingIsShownOtherwise) {
  auto tracker = std::make_unique<Witness>();
  const Tracker* const own = tracker.get();
  EXPECT_EQ(shown(std::move(tracker), {}).get(), own);
}

TEST(Width, IsAParameterOfEveryTrackerInTheCatalogue) {
  Catalogue catalogue = Catalogue::standard();
  const std::vector<Image<Byte>> pictures = away_and_back(false);
  const auto one = catalogue.make("corr-scaled", {{"width", 110}});
  const auto other = shown(catalogue.make("corr-scaled", {}), {.width = 110});
  expect_same(follow_all(*one, pictures), follow_all(*other, pictures));
  const auto message = [&](ParamSet set) {
    return test::message_of<CallError>([&] { (void)catalogue.make("corr-scaled", set); });
  };
  test::expect_parts(message({{"width", 5}}), {"width of 5 px", "8 to 8192"});
  test::expect_parts(message({{"width", 9000}}), {"width", "8192"});
  test::expect_parts(message({{"width", std::string("wide")}}), {"width", "whole number"});
  TrackerEntry taken = catalogue.entry("stay");
  taken.name = "mine";
  taken.schema.fields.back().help = "How broad it is.";  // one of its own
  test::expect_parts(test::message_of<CallError>([&] { catalogue.add(taken); }), {"'mine'", "'width'"});
}

// What moves in an area is nothing to any tracker: not while it holds its target, not while it looks for it.
TEST_P(EveryTrackerShownOtherwise, SeesNothingOfAnAreaToKeepOut) {
  const Showing showing{.keep_out = {kCorner}};
  const auto plain = follow_all(*make(showing), away_and_back(false));
  expect_same(follow_all(*make(showing), away_and_back(true)), plain);
  if (GetParam() == "stay") return;
  int absent = 0;
  int held = 0;
  for (int i = 0; i < kShownFrames; ++i) {
    absent += plain[i].present ? 0 : 1;
    held += i < 20 && overlap(plain[i].box.box, Box{20 + 0.5 * i, 20, 60, 40}) > 0.5 ? 1 : 0;
  }
  EXPECT_GE(absent, 10);
  EXPECT_GE(held, 18);
}

TEST_P(EveryTrackerShownOtherwise, HoldsItsTargetAtHalfTheWidth) {
  const auto pictures = away_and_back(false);
  const auto estimates = follow_all(*make({.width = test::kCols / 2}), pictures);
  if (GetParam() == "stay") return;
  int held = 0;
  for (int i = 0; i < 20; ++i)
    held += overlap(estimates[i].box.box, Box{20 + 0.5 * i, 20, 60, 40}) > 0.5 ? 1 : 0;
  EXPECT_GE(held, 18);
}

TEST_P(EveryTrackerShownOtherwise, ACloneGoesOnAsTheOriginal) {
  const Showing showing{.width = test::kCols / 2, .keep_out = {kCorner}};
  const auto pictures = away_and_back(true);
  const auto whole = follow_all(*make(showing), pictures);
  for (const int at : {0, 12, 30}) {
    auto first = make(showing);
    for (int i = 0; i <= at; ++i) (void)test::seed_or_follow(*first, test::frame_of(pictures[i], i), kSeed);
    const auto clone = first->clone();
    ASSERT_NE(clone, nullptr);
    EXPECT_TRUE(clone->mask().has_shape_of(first->mask()));
    EXPECT_TRUE(clone->mask().empty() || clone->mask().data != first->mask().data);
    first.reset();
    expect_same(follow_all(*clone, pictures, at + 1), {whole.begin() + at + 1, whole.end()});
  }
}

#ifndef __SANITIZE_ADDRESS__  // which counts allocations itself
TEST_P(EveryTrackerShownOtherwise, FollowingAllocatesNothing) {
  const auto pictures = away_and_back(true);
  const auto tracker = make({.width = test::kCols / 2, .keep_out = {kCorner}});
  (void)tracker->seed(test::frame_of(pictures[0], 0), kSeed);
  const long before = test::allocation_count();
  for (int i = 1; i < kShownFrames; ++i) (void)tracker->follow(test::frame_of(pictures[i], i));
  EXPECT_EQ(test::allocation_count() - before, 0);
}
#endif

INSTANTIATE_TEST_SUITE_P(All, EveryTrackerShownOtherwise, ::testing::ValuesIn(test::all_trackers()),
                         test::name_of_tracker);

}  // namespace mnemon
