// SPDX-License-Identifier: MIT
#include <mnemon/track/mask/mask_target.hpp>

#include <array>
#include <span>
#include <vector>

#include <gtest/gtest.h>

#include <mnemon/track/mask/plain.hpp>

#include "support/drawn_target.hpp"
#include "track/expectations.hpp"

namespace mnemon {
namespace {

using test::frame_of;
using test::mask_of;
using test::mask_overlap;

// How alike the last of many frames of another look is, to the appearance that has learnt them.
double likeness_after_change(bool forgets) {
  const Ellipse ellipse{{110, 80}, 30, 24, 0};
  const Box box = test::box_around_drawn(ellipse);
  const Image<Byte> first = test::picture_of({{ellipse}}, 1);
  MaskTarget target;
  MaskSighting seen = target.start(frame_of(first, 0), box, box, {});
  if (forgets) target.forget_seed();
  for (int i = 1; i < 60; ++i) {
    const Image<Byte> picture = test::picture_of({{ellipse, 0.6}}, 1 + i);
    seen = target.look(frame_of(picture, i), {ellipse.middle, 1, 0, 0});
    target.learn(seen);
  }
  return target.likeness(target.appearance());
}

}  // namespace

// The mask of an ellipse, from no more than its box: its corners are cut off.
TEST(MaskTarget, CutsTheTargetOutOfItsBox) {
  const Ellipse ellipse{{100, 84}, 40, 25, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 4);
  MaskPlain tracker(MaskPlainParams{});
  const Estimate seeded = tracker.seed(frame_of(picture, 0), test::box_around_drawn(ellipse));
  EXPECT_GT(mask_overlap(seeded.mask, ellipse), 0.9);
  ASSERT_TRUE(seeded.minor_px.has_value());
  EXPECT_NEAR(*seeded.minor_px, 50, 3);
}

// A look that ends in a pose at hand leaves it at that; one that does not is had as if none were known.
TEST(MaskTarget, DoesNotCutOutWhatIsAtAKnownPose) {
  const Ellipse first{{100, 84}, 40, 25, 0};
  const Image<Byte> before = test::picture_of({{first}}, 4);
  const Image<Byte> after = test::picture_of({{{{104, 80}, 40, 25, 10}}}, 5);
  const Box box = test::box_around_drawn(first);
  MaskTarget target;
  (void)target.start(frame_of(before, 0), Region(box), box, {});
  const auto look = [&](std::span<const TargetPose> known) {
    return target.look(frame_of(after, 1), {centre(box), 1, 0, 0}, target.appearance(), target.colours(), 1,
                       known);
  };
  const MaskSighting seen = look({});
  EXPECT_FALSE(seen.is_known);
  ASSERT_GT(seen.area, 0);
  const double cell = target.appearance().cell_px();
  const auto moved = [&](double by) {
    TargetPose pose = seen.pose;
    pose.middle.x += by;
    return pose;
  };
  const MaskSighting again = look(std::array{moved(5 * cell), moved(0.4 * cell)});
  EXPECT_TRUE(again.is_known);
  EXPECT_EQ(again.pose.middle.x, seen.pose.middle.x);
  EXPECT_EQ(again.area, 0);
  const MaskSighting other = look(std::array{moved(5 * cell), moved(0.6 * cell)});
  EXPECT_FALSE(other.is_known);
  EXPECT_EQ(other.area, seen.area);
  EXPECT_EQ(other.likeness, seen.likeness);
}

// A look that was kept while another one was had is learnt from as if there had been no other.
TEST(MaskTarget, RecallsTheSightingThatWasKept) {
  const Ellipse first{{100, 84}, 40, 25, 0};
  const Ellipse second{{104, 80}, 40, 25, 10};
  const Image<Byte> before = test::picture_of({{first}}, 4);
  const Image<Byte> after = test::picture_of({{second}}, 5);
  const Box box = test::box_around_drawn(first);
  const auto learnt = [&](bool looks_elsewhere) {
    MaskTarget target;
    (void)target.start(frame_of(before, 0), Region(box), box, {});
    const MaskSighting seen = target.look(frame_of(after, 1), {centre(box), 1, 0, 0});
    if (looks_elsewhere) {
      target.keep();
      const MaskSighting elsewhere = target.look(frame_of(after, 1), {{60, 60}, 0.8, 0.4, 0});
      EXPECT_NE(elsewhere.likeness, seen.likeness);
      target.recall();
    }
    target.found();
    target.learn(seen);
    std::vector<float> all;
    for (int k = 0; k < kPatchChannels; ++k)
      for (int r = 0; r < target.appearance().rows(); ++r)
        for (int c = 0; c < target.appearance().cols(); ++c)
          all.push_back(target.appearance().channel(k)(r, c));
    all.insert(all.end(), target.colours().table(), target.colours().table() + kColours);
    target.draw_mask(true);
    const ImageView<const Byte> mask = target.mask();
    for (int r = 0; r < mask.rows; ++r)
      for (int c = 0; c < mask.cols; ++c) all.push_back(mask(r, c));
    return all;
  };
  EXPECT_EQ(learnt(true), learnt(false));
}

TEST(MaskTarget, RefitsABoxThatIsALittleOff) {
  const Ellipse ellipse{{100, 84}, 40, 25, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 4);
  const Box right = test::box_around_drawn(ellipse);
  const auto refitted = [&](const Box& marked) {
    MaskRules rules;
    rules.refit = true;
    MaskTarget target;
    return target.start(frame_of(picture, 0), Region(marked), marked, rules).box;
  };
  EXPECT_GT(overlap(refitted(right), right), 0.92);
  for (const Box& off : {Box{right.x + 8, right.y, right.w, right.h},
                         Box{right.x, right.y - 5, right.w, right.h}, scaled(right, 1.2)})
    EXPECT_GT(overlap(refitted(off), right), overlap(off, right) + 0.06) << off.x << ' ' << off.y;
  // Without, a box is as it was marked.
  MaskTarget target;
  const Box off{right.x + 8, right.y, right.w, right.h};
  EXPECT_EQ(target.start(frame_of(picture, 0), Region(off), off, MaskRules()).box, off);
}

TEST(MaskTarget, TakesAnOutlineAsItIs) {
  const Ellipse ellipse{{100, 84}, 40, 25, 20};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 4);
  const Image<Byte> mask = mask_of({ellipse});
  MaskPlain tracker(MaskPlainParams{});
  const Estimate seeded = tracker.seed(frame_of(picture, 0), Region(std::as_const(mask).view()));
  EXPECT_GT(mask_overlap(seeded.mask, ellipse), 0.93);
}

TEST(MaskTarget, IsPulledBackToItsSeedUnlessThatIsForgotten) {
  EXPECT_GT(likeness_after_change(true), likeness_after_change(false) + 0.05);
}

}  // namespace mnemon
