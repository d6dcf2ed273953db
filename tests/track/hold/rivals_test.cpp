// SPDX-License-Identifier: MIT
#include <mnemon/track/hold/rivals.hpp>

#include <algorithm>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/blob/colour.hpp>
#include <mnemon/track/corr/kernel.hpp>
#include <mnemon/track/corr/reliable.hpp>
#include <mnemon/track/corr/scaled.hpp>
#include <mnemon/track/mask/memory.hpp>

#include "support/drawn_target.hpp"

namespace mnemon {
namespace {

TEST(Rivals, NeedNothingBeforeOneIsSeen) {
  Rivals rivals;
  EXPECT_EQ(rivals.needed(0.5), 0);
  rivals.take(0);
  EXPECT_EQ(rivals.needed(0.5), 0);
}

TEST(Rivals, NeedMoreThanTheBest) {
  Rivals rivals;
  rivals.take(0.6);
  rivals.take(0.4);
  EXPECT_NEAR(rivals.needed(0), 0.6, 0.01);
  EXPECT_NEAR(rivals.needed(0.5), 0.8, 0.01);
  EXPECT_NEAR(rivals.needed(1), 1, 1e-12);
  rivals.take(1.1);  // one that is more like the target than the target usually is
  EXPECT_EQ(rivals.needed(0.5), 1.1);
  rivals.start();
  EXPECT_EQ(rivals.needed(0.5), 0);
}

TEST(Rivals, AreForgottenAfterSomeHundredFrames) {
  Rivals rivals;
  rivals.take(0.9);
  int looks = 0;
  for (int frame = 0; frame < 600; ++frame) {
    rivals.count_frame();
    EXPECT_EQ(rivals.is_due(), rivals.is_due());
    if (!rivals.is_due()) continue;
    ++looks;
    rivals.take(0.1);
  }
  EXPECT_EQ(looks, 100);
  EXPECT_LT(rivals.needed(0), 0.4);
  EXPECT_GE(rivals.needed(0), 0.1);
}

// The target leaves the picture at its left while one much like it stays in view, and comes back lower down.
constexpr int kBack = 70;

std::vector<test::DrawnTarget> one_and_its_like(int i, double turn_deg = 0) {
  const test::DrawnTarget like{{{150 + 0.4 * i, 60}, 18, 14, turn_deg}, 0.15};
  if (i < kBack) return {like, {{{110 - 5.0 * i, 70}, 18, 14, 0}}};
  return {like, {{{-20 + 4.0 * (i - kBack), 100}, 18, 14, 0}}};
}

// On how many frames a tracker has the one instead of the other, and the overlap with the target at the end.
struct Course {
  int on_like = 0;
  double overlap_at_end = 0;
};

// The first thing drawn is the like, the second the target.
template <class Drawn>
Course course_of(Tracker&& tracker, Drawn drawn_at) {
  Course course;
  for (int i = 0; i < 100; ++i) {
    const std::vector<test::DrawnTarget> drawn = drawn_at(i);
    const Image<Byte> picture = test::drawn_picture(drawn, 160, 220, 900 + i);
    const Box own = test::box_around_drawn(drawn[1].ellipse);
    const Estimate estimate = test::seed_or_follow(tracker, test::frame_of(picture, i), own);
    if (i < 18) {
      EXPECT_GT(overlap(estimate.box.box, own), 0.7) << i;
    }
    const Box like = test::box_around_drawn(drawn[0].ellipse);
    course.on_like +=
        estimate.present && overlap(estimate.box.box, like) > 0.3 && overlap(own, like) == 0 ? 1 : 0;
    course.overlap_at_end = estimate.present ? overlap(estimate.box.box, own) : 0;
  }
  return course;
}

template <class T, class Params>
void expect_to_need_rivals(double turn_deg = 0) {
  const auto drawn = [turn_deg](int i) { return one_and_its_like(i, turn_deg); };
  const Course with = course_of(T(Params{}), drawn);
  EXPECT_EQ(with.on_like, 0);
  EXPECT_GT(with.overlap_at_end, 0.7);
  Params params;
  params.rivals = false;
  EXPECT_GT(course_of(T(params), drawn).on_like, 20);
}

// Filters hardly see a hue: for them the like is turned.
TEST(CorrKernel, TellsTheTargetFromItsLike) { expect_to_need_rivals<CorrKernel, CorrKernelParams>(20); }
TEST(CorrScaled, TellsTheTargetFromItsLike) { expect_to_need_rivals<CorrScaled, CorrScaledParams>(20); }
TEST(CorrReliable, TellsTheTargetFromItsLike) { expect_to_need_rivals<CorrReliable, CorrReliableParams>(20); }
TEST(BlobColour, TellsTheTargetFromItsLike) { expect_to_need_rivals<BlobColour, BlobColourParams>(); }
TEST(MaskMemory, TellsTheTargetFromItsLike) { expect_to_need_rivals<MaskMemory, MaskMemoryParams>(); }

// The target leaves as before, past one much like it that waits at the edge.
std::vector<test::DrawnTarget> past_its_like(int i) {
  std::vector<test::DrawnTarget> drawn = one_and_its_like(i);
  drawn[0].ellipse.middle = {std::max(10.0, 180 - 8.0 * i), 66};
  return drawn;
}

TEST(MaskMemory, LetsTheTargetGoPastItsLike) {
  const Course course = course_of(MaskMemory({}), past_its_like);
  EXPECT_EQ(course.on_like, 0);
  EXPECT_GT(course.overlap_at_end, 0.7);
}

}  // namespace
}  // namespace mnemon
