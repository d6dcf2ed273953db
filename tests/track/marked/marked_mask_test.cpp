// SPDX-License-Identifier: MIT
#include <mnemon/track/marked/marked_mask.hpp>

#include <gtest/gtest.h>

#include <mnemon/base/error.hpp>
#include <mnemon/track/mask/plain.hpp>

#include "support/drawn_target.hpp"
#include "track/expectations.hpp"

namespace mnemon {
namespace {

using test::frame_of;
using test::mask_overlap;
using test::ThreePieces;

}  // namespace

TEST(MarkedMask, IsWhatHangsTogetherWithThePoints) {
  const Ellipse ellipse{{70, 80}, 30, 22, 0};
  const Ellipse other{{160, 80}, 30, 22, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}, {other, 2.5}}, 5);
  const Image<Byte> mask =
      marked_mask(frame_of(picture, 0), {{{70, 80}, {58, 84}, {84, 72}}, {{160, 80}, {20, 20}, {115, 80}}});
  EXPECT_GT(mask_overlap(mask.view(), ellipse), 0.85);
  const Image<Byte> boxed =
      marked_mask(frame_of(picture, 0), {{{70, 80}}, {}, test::box_around_drawn(ellipse)});
  EXPECT_GT(mask_overlap(boxed.view(), ellipse), 0.85);
}

TEST(MarkedMask, HasEveryPieceThatAPointIsOn) {
  const ThreePieces pieces(0);
  const Image<Byte> picture = pieces.picture(8);
  const auto middle = [](const Ellipse& one) { return one.middle; };
  const Image<Byte> mask = marked_mask(frame_of(picture, 0), {{middle(pieces.left), middle(pieces.right)},
                                                              {middle(pieces.beside), {20, 20}, {93, 62}}});
  EXPECT_GT(mask_overlap(mask.view(), {pieces.left, pieces.right}), 0.85);
}

TEST(MarkedMask, SeedsAnyTracker) {
  const Ellipse ellipse{{70, 80}, 30, 22, 0};
  const Image<Byte> picture = test::picture_of({{ellipse}}, 6);
  MaskPlain tracker(MaskPlainParams{});
  const PointMarks marks{{{70, 80}, {60, 80}, {80, 84}}, {{120, 80}}};
  const Image<Byte> mask = marked_mask(frame_of(picture, 0), marks);
  const Estimate seeded = tracker.seed(frame_of(picture, 0), mask.view());
  EXPECT_THROW((void)tracker.seed(frame_of(picture, 0), marks), CallError);  // which have to be cut out first
  EXPECT_GT(overlap(seeded.box.box, test::box_around_drawn(ellipse)), 0.8);
}

TEST(MarkedMask, RefusesPointsThatSayNothing) {
  const Image<Byte> picture = test::picture_of({}, 7);
  EXPECT_THROW((void)marked_mask(frame_of(picture, 0), {}), CallError);
  EXPECT_THROW((void)marked_mask(frame_of(picture, 0), {{{500, 3}}, {}}), CallError);
  EXPECT_THROW((void)marked_mask(frame_of(picture, 0), {{{5, 3}}, {{5, std::nan("")}}}), CallError);
}

}  // namespace mnemon
